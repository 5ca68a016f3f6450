/** The least that a scenario is calculated from, for tests of the core. */
import type { Calendar } from '../../src/lib/core/calendar/calendar';
import type { Account, Dimension } from '../../src/lib/core/company/schema';
import { buildStructure, type Structure } from '../../src/lib/core/company/structure';
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

/** Departments under one, each in a company: a British one (`ltd`), or a Finnish one that counts in euro (`oy`). */
export const inTwoCompanies = (
	calendar: Calendar,
	accounts: readonly Account[],
	departments: Readonly<Record<string, 'ltd' | 'oy'>>,
	dimensions: readonly Dimension[] = []
): Structure =>
	buildStructure(
		calendar,
		accounts,
		[
			{ code: 'all', name: 'All', parent: null, entity: 'ltd' },
			...Object.entries(departments).map(([code, entity]) => ({ code, name: code, parent: 'all', entity }))
		],
		dimensions,
		'GBP',
		[
			{ code: 'ltd', name: 'Ltd', currency: 'GBP' },
			{ code: 'oy', name: 'Oy', currency: 'EUR' }
		]
	);
