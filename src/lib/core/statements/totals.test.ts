/** Totals that are kept are those that summing anew gives, whatever was typed, adjusted and taken back in between. */
import * as fc from 'fast-check';
import { expect, it } from 'vitest';
import { ModelDefinition } from '../blocks/driver-model/schema';
import { monthCalendar } from '../calendar/calendar';
import type { Account } from '../company/schema';
import { buildStructure } from '../company/structure';
import { ACCOUNTS_BLOCK } from '../engine/spec';
import { cellAt, type Cell } from '../engine/values';
import type { Adjustment } from '../inputs/adjust';
import type { TypedCell } from '../inputs/cell';
import { calculateScenario } from '../scenario/assemble';
import type { ScenarioData } from '../scenario/data';
import type { Plan } from '../scenario/plan';
import { typeInto } from '../scenario/type-cells';
import { cellsOf } from './statement';
import { totalsOf } from './totals';

const calendar = monthCalendar(4);
const APR = calendar.parse('2026-04')!;
const MONTHS = 6;
const account = (code: string, type: Account['type'], parent: string | null): Account => ({
	code,
	name: code,
	parent,
	type,
	rollup: 'sum',
	format: 'money'
});
const department = (code: string, parent: string | null) => ({ code, name: code, parent, entity: 'e' });
const structure = buildStructure(
	calendar,
	[
		account('profit', 'revenue', null),
		account('sales', 'revenue', 'profit'),
		account('costs', 'expense', 'profit'),
		account('ads', 'expense', 'costs'),
		account('rent', 'expense', 'costs'),
		account('numbers', 'statistical', null),
		account('heads', 'statistical', 'numbers')
	],
	[
		department('all', null),
		department('north', 'all'),
		department('n1', 'north'),
		department('n2', 'north'),
		department('south', 'all'),
		department('abroad', null)
	],
	[],
	'GBP'
);
const leaves = ['n1', 'n2', 'south', 'abroad'];
const definition = ModelDefinition.parse({
	code: 'shop',
	name: 'Shop',
	dimensions: ['department'],
	lines: [
		{ code: 'visits', label: 'Visits' },
		{ code: 'basket', label: 'Basket', rollup: { time: 'formula', members: 'weighted:visits' } },
		// An error where nobody comes.
		{ code: 'income', label: 'Income', formula: 'visits * basket + 0 / (visits - 7)' }
	],
	postings: [{ line: 'income', account: { code: 'sales' }, department: { attribute: 'department.code' } }]
});
const adjustment: Adjustment = {
	code: 'more',
	name: 'More',
	on: true,
	steps: [
		{ lines: [{ block: 'shop', line: 'visits' }], where: {}, operation: 'multiply', value: 1.5 },
		{ lines: [{ block: ACCOUNTS_BLOCK, line: 'rent' }], where: {}, operation: 'add', value: 10 }
	]
};
const data: ScenarioData = {
	scenario: {
		code: 's',
		name: 'S',
		kind: 'budget',
		first: APR,
		last: APR + MONTHS - 1,
		actualsThrough: null,
		follows: null,
		origin: null,
		locked: false,
		description: ''
	},
	models: [{ definition, rows: leaves.slice(0, 3).map((d) => [d]) }],
	series: [],
	bases: leaves.map((d) => ({
		account: 'ads',
		department: d,
		basis: { kind: 'percent-of', account: 'sales', percent: 10 }
	})),
	history: { first: APR, accounts: new Map() },
	adjustments: [adjustment]
};

/** Every leaf on its own, in the order of the tree. */
function summed(plan: Plan, code: string, departments: readonly string[], t: number): Cell {
	const { accounts, departmentRow } = plan.structure;
	const own = accounts.get(code)!;
	let sum: number | null = null;
	const parts = accounts.isLeaf(code)
		? departments.map((d) => ({
				sign: 1,
				cell: cellAt(plan.calculation.matrix(ACCOUNTS_BLOCK, code), departmentRow.get(d)!, t)
			}))
		: own.type === 'statistical'
			? []
			: accounts.children(code).map((c) => ({
					sign: c.type === own.type ? 1 : -1,
					cell: summed(plan, c.code, departments, t)
				}));
	for (const { sign, cell } of parts) {
		if (typeof cell === 'string') return cell;
		if (cell !== null) sum = (sum ?? 0) + sign * cell;
	}
	return sum;
}

const typed = fc.record({
	at: fc.constantFrom(
		...leaves.flatMap((row) => [
			{ block: ACCOUNTS_BLOCK, line: 'rent', row },
			{ block: ACCOUNTS_BLOCK, line: 'heads', row }
		]),
		...['visits', 'basket'].flatMap((line) => leaves.slice(0, 3).map((row) => ({ block: 'shop', line, row })))
	),
	t: fc.nat(MONTHS - 1),
	// Null takes back what was typed.
	value: fc.option(fc.integer({ min: 0, max: 9 }), { freq: 3 })
});
const asked = fc.array(
	fc.tuple(
		fc.constantFrom(...structure.accounts.all.map((a) => a.code)),
		fc.constantFrom(null, ...structure.departments.all.map((d) => d.code))
	),
	{ minLength: 1, maxLength: 6 }
);
const step = fc.record({ cells: fc.array(typed, { maxLength: 3 }), adjusted: fc.boolean(), asked });

it('holds for any account in any department, in any order of asking', () => {
	fc.assert(
		fc.property(fc.array(step, { minLength: 1, maxLength: 6 }), (steps) => {
			const plan = calculateScenario(structure, data);
			const first = APR - plan.calculation.axis.first;
			for (const { cells, adjusted, asked } of steps) {
				plan.inputs.use(plan.calculation, [{ ...adjustment, on: adjusted }]);
				plan.calculation.recalculate();
				const typed = cells.map(({ at, t, value }): TypedCell => ({ ...at, period: APR + t, value }));
				expect(typeInto(plan, typed)).toBe(true);
				for (const [code, department] of asked) {
					const series = totalsOf(plan).of(code, department);
					const under = department ? structure.departments.leaves(department).map((d) => d.code) : leaves;
					for (let t = first; t < first + MONTHS; t++) {
						const expected = summed(plan, code, under, t);
						const [found] = cellsOf(series, series.first + t, series.first + t);
						expect(found === null || typeof found === 'string' ? found : found + 0).toBe(expected);
					}
				}
			}
		}),
		{ numRuns: 150 }
	);
});
it('says what is not there', () => {
	const totals = totalsOf(calculateScenario(structure, data));
	expect(() => totals.of('nothing', 'all')).toThrow(RangeError);
	expect(() => totals.of('rent', 'nowhere')).toThrow(RangeError);
});
