/** The least that a scenario is calculated from, for tests of the core. */
import type { Account } from '../../src/lib/core/company/schema';
import type { ScenarioData } from '../../src/lib/core/scenario/data';

export const account = (code: string, type: Account['type'], parent: string | null = null): Account => ({
	code,
	name: code,
	parent,
	type,
	rollup: 'sum',
	format: 'money'
});

/** A year of plan from a period on, with nothing in it but what is given. */
export const yearFrom = (first: number, more: Partial<ScenarioData>): ScenarioData => ({
	scenario: {
		code: 's',
		name: 'S',
		kind: 'budget',
		first,
		last: first + 11,
		actualsThrough: null,
		follows: null,
		origin: null,
		locked: false,
		description: ''
	},
	models: [],
	series: [],
	bases: [],
	history: { first: first - 12, accounts: new Map() },
	...more
});
