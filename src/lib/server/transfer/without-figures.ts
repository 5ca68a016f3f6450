/** A company as it is set up, to begin another one with: everything but its figures, and what was said of them. */
import { scenarioOf } from '../company/subjects/scenarios';
import { companyOf, type CompanyData } from '../company/subjects';

/** Named one by one: what is kept some day does not come along by itself. */
const KEPT = [
	'company',
	'accounts',
	'ledgerAccounts',
	'entities',
	'departments',
	'dimensions',
	'rules',
	'profiles',
	'rateSets',
	'users'
] as const;

/**
 * Accounts and their map, departments and entities, dimensions, driver models, schedules without their rows, rules, profiles, exchange rates, people;
 * and one plan to begin with, the last budget or else the last plan, with its models and how accounts are planned,
 * blank, unlocked, and seen by those who see it here. No entry, typed value, adjustment, note, round or history comes along.
 */
export function withoutFigures(data: CompanyData): CompanyData {
	const plans = data.scenarios.filter((s) => s.scenario.kind !== 'actuals');
	const latest = (list: typeof plans) =>
		list.reduce<(typeof plans)[number] | undefined>(
			(last, s) => (last && last.scenario.first >= s.scenario.first ? last : s),
			undefined
		);
	const from = latest(plans.filter((s) => s.scenario.kind === 'budget')) ?? latest(plans);
	const definitions = from?.definitions ?? [];
	const used = new Map(definitions.map((d) => [d.code, d]));
	const kept = Object.fromEntries(KEPT.map((name) => [name, data[name]])) as Pick<
		CompanyData,
		(typeof KEPT)[number]
	>;
	return companyOf({
		...kept,
		schedules: from?.scheduleForms ?? [],
		models: data.models.flatMap((m) => {
			const definition = used.get(m.definition.code);
			return definition ? [{ ...m, definition }] : [];
		}),
		scenarios: from
			? [
					scenarioOf({
						scenario: {
							...from.scenario,
							kind: 'budget',
							actualsThrough: null,
							follows: null,
							origin: null,
							target: null,
							locked: false,
							description: ''
						},
						definitions: [...definitions],
						scheduleForms: from.scheduleForms,
						scheduleRows: from.scheduleForms.map((s) => ({ schedule: s.code, rows: [] })),
						bases: from.bases
					})
				]
			: []
	});
}
