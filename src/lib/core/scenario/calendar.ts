/** The periods of a scenario: its company's, or coarser ones in later years. */
import type { Calendar } from '../calendar/calendar';
import { calendarOf } from '../calendar/calendar-of';
import { endOnto } from '../calendar/onto';
import type { Structure } from '../company/structure';
import type { Scenario } from './schema';

/** @throws RangeError for later years in a company that is not kept by months */
export function scenarioCalendar(company: Calendar, { laterYears }: Pick<Scenario, 'laterYears'>): Calendar {
	if (!laterYears) return company;
	const { spec } = company;
	if (spec.kind !== 'months')
		throw new RangeError('Later years can be coarser in a company of months alone.');
	return calendarOf({ ...spec, ...laterYears, kind: 'mixed' });
}

/** The company’s periods, given a scenario’s. */
export const companyCalendar = (calendar: Calendar): Calendar => calendar.months ?? calendar;

/** The company as the scenario sees it: in the scenario's periods. */
export function structureIn(structure: Structure, scenario: Pick<Scenario, 'laterYears'>): Structure {
	const calendar = scenarioCalendar(structure.calendar, scenario);
	if (calendar === structure.calendar) return structure;
	const all = seen.get(structure) ?? new Map<Calendar, Structure>();
	seen.set(structure, all);
	const have = all.get(calendar) ?? { ...structure, calendar };
	all.set(calendar, have);
	return have;
}
const seen = new WeakMap<Structure, Map<Calendar, Structure>>();

/**
 * A scenario whose first and last period are its own. What is kept of a scenario is in the company's periods; up to the
 * first coarser year the two count alike, so that what is closed, and the first, are the same in both.
 */
export function inOwnPeriods(scenario: Scenario, company: Calendar): Scenario {
	const calendar = scenarioCalendar(company, scenario);
	return calendar === company ? scenario : { ...scenario, last: endOnto(calendar, company, scenario.last) };
}
