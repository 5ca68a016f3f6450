/** What must hold between the scenarios of a company. */
import type { Calendar, Period } from '../calendar/calendar';
import type { Scenario } from './schema';

/** A scenario spans at most so many years. */
export const MOST_YEARS = 10;

export interface ScenarioFault {
	scenario: string;
	column: 'last' | 'actuals_through' | 'follows' | 'target' | 'later_years' | 'rates';
	message: string;
}

/**
 * Everything that is wrong with spans and with what rests on what.
 * @param ledgerLast last month the ledger holds; less than 0 where it holds none
 */
export function scenarioFaults(
	scenarios: readonly (Scenario & { target: string | null })[],
	ledgerLast: Period,
	calendar: Calendar
): ScenarioFault[] {
	const faults: ScenarioFault[] = [];
	const by = new Map(scenarios.map((s) => [s.code, s]));
	for (const s of scenarios) {
		const say = (column: ScenarioFault['column'], message: string) =>
			faults.push({ scenario: s.code, column, message });
		if (s.last < s.first) say('last', `the last ${calendar.words.one} lies before the first`);
		if (s.last - s.first >= MOST_YEARS * calendar.periodsPerYear)
			say('last', `a scenario spans at most ${MOST_YEARS} years`);
		if (s.actualsThrough !== null && s.actualsThrough > Math.max(ledgerLast, -1))
			say(
				'actuals_through',
				ledgerLast < 0
					? `no ledger ${calendar.words.one} is loaded, so nothing of it is actual`
					: `the ledger ends with ${calendar.key(ledgerLast)}; later ${calendar.words.many} are not actual`
			);
		const later = laterYearsFault(s, calendar);
		if (later) say('later_years', later);
		if (s.target !== null && (s.target === s.code || !by.has(s.target)))
			say('target', `“${s.target}” is no other scenario`);
		if (s.follows === null) continue;
		const followed = by.get(s.follows);
		if (!followed) say('follows', `“${s.follows}” is no scenario`);
		else if (followsItself(s, by)) say('follows', `“${s.name}” would look back through itself`);
		else {
			const gap = gapBefore(s, followed);
			if (gap)
				say(
					'follows',
					`“${followed.name}” spans ${calendar.key(followed.first)} to ${calendar.key(followed.last)}; ${calendar.key(gap.from)} to ${calendar.key(gap.to)} would be nobody’s plan`
				);
		}
	}
	return faults;
}

/** Whatever is closed, and the first year that is planned, stands in months. */
function laterYearsFault(s: Scenario, calendar: Calendar): string | null {
	if (!s.laterYears) return null;
	if (calendar.spec.kind !== 'months')
		return 'later years can be divided more coarsely in a company of months alone';
	const begun = Math.max(s.first, (s.actualsThrough ?? s.first - 1) + 1);
	const earliest = calendar.fiscalYear(begun) + 1;
	return s.laterYears.firstYear < earliest
		? `later years begin with ${calendar.yearLabel(earliest)} or after it: what is closed, and the first year that is planned, stand in months`
		: null;
}

function followsItself(scenario: Scenario, by: ReadonlyMap<string, Scenario>): boolean {
	const seen = new Set<string>();
	let at: Scenario | undefined = scenario;
	while (at?.follows != null && !seen.has(at.code)) {
		seen.add(at.code);
		at = by.get(at.follows);
	}
	return at?.code === scenario.code && seen.size > 0;
}

/** Months between the end of what a scenario follows and its own first that are not closed either. */
function gapBefore(s: Scenario, followed: Scenario): { from: Period; to: Period } | null {
	const from = Math.max(s.actualsThrough ?? -Infinity, followed.last) + 1;
	return from < s.first ? { from, to: s.first - 1 } : null;
}
