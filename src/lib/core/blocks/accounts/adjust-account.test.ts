/** Accounts under adjustments, whatever their plan comes from, against working each cell out step by step. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../calendar/calendar';
import { newMatrix, setCell } from '../../engine/values';
import { ModelDefinition } from '../driver-model/schema';
import type { Account } from '../../company/schema';
import type { Basis } from '../../inputs/basis';
import type { Series } from '../../inputs/series';
import type { Adjustment, AdjustmentStep } from '../../inputs/adjust';
import { calculateScenario } from '../../scenario/assemble';
import { buildStructure } from '../../company/structure';

const calendar = monthCalendar(7);
const at = (key: string) => calendar.parse(key)!;
const JUL = at('2026-07');
const account = (code: string, parent: string | null): Account => ({
	code,
	name: code,
	parent,
	type: 'expense',
	rollup: 'sum',
	format: 'money'
});
const DEPARTMENTS = ['a', 'b'];
const structure = buildStructure(
	calendar,
	[account('cost', null), account('rent', 'cost'), account('base', 'cost')],
	[
		{ code: 'all', name: 'All', parent: null, entity: 'e' },
		...DEPARTMENTS.map((code) => ({ code, name: code, parent: 'all', entity: 'e' }))
	],
	[],
	'GBP'
);
const posting = ModelDefinition.parse({
	code: 'm',
	name: 'M',
	dimensions: ['department'],
	lines: [{ code: 'x', label: 'X' }],
	postings: [{ line: 'x', account: { code: 'rent' }, department: { attribute: 'department.code' } }]
});
const typed = (block: string, line: string, row: string, values: (number | null)[]): Series => ({
	block,
	line,
	row,
	first: JUL,
	values: Float64Array.from(values, (v) => v ?? NaN)
});

interface Company {
	months: number;
	series: Series[];
	bases?: Record<string, Basis>;
	posts?: boolean;
	/** Of the account `rent`, a value for each of twelve months before July. */
	before?: number[];
	adjustments: Adjustment[];
}
function planned({ months, series, bases = {}, posts = false, before = [], adjustments }: Company) {
	const past = newMatrix(2, 12);
	for (let t = 0; t < 12; t++) for (const r of [0, 1]) setCell(past, r, t, before[t] ?? null);
	return calculateScenario(structure, {
		scenario: {
			code: 's',
			name: 'S',
			kind: 'forecast',
			first: JUL,
			last: JUL + months - 1,
			actualsThrough: JUL - 1,
			follows: null,
			origin: null,
			locked: false,
			description: ''
		},
		models: posts ? [{ definition: posting, rows: DEPARTMENTS.map((d) => [d]) }] : [],
		series,
		bases: Object.entries(bases).map(([department, basis]) => ({ account: 'rent', department, basis })),
		history: { first: JUL - 12, accounts: new Map([['rent', past]]) },
		adjustments
	});
}
const rent = (company: Company, row = 0) => {
	const plan = planned(company);
	return Array.from({ length: company.months }, (_, t) =>
		plan.calculation.cell('accounts', 'rent', row, JUL + t)
	);
};
const lines = [{ block: 'accounts', line: 'rent' }];
const step = (more: Partial<AdjustmentStep>) => ({ lines, where: {}, ...more }) as AdjustmentStep;
const shift = (periods: number, more: Partial<AdjustmentStep> = {}) =>
	step({ operation: 'shift', periods, ...more } as Partial<AdjustmentStep>);
const times = (value: number, more: Partial<AdjustmentStep> = {}) =>
	step({ operation: 'multiply', value, ...more } as Partial<AdjustmentStep>);
const adjust = (...steps: AdjustmentStep[]): Adjustment[] =>
	steps.map((s, i) => ({ code: `a${i}`, name: `a${i}`, on: true, steps: [s] }));
const sixMonths = [typed('accounts', 'rent', 'a', [10, 20, 30, 40, 50, 60])];

describe('an adjusted account', () => {
	it('moves, whether it is typed, posted, a share of another, or last year’s', () => {
		const later = adjust(shift(1));
		expect(rent({ months: 4, series: sixMonths, adjustments: later })).toEqual([null, 10, 20, 30]);
		const before = Array.from({ length: 12 }, (_, t) => 100 * (t + 1));
		const lastYear: Basis = { kind: 'last-year', percent: 0 };
		expect(rent({ months: 4, series: [], bases: { a: lastYear }, before, adjustments: later })).toEqual([
			null,
			100,
			200,
			300
		]);
		expect(
			rent({ months: 4, series: [], bases: { a: lastYear }, before, adjustments: adjust(shift(-1)) })
		).toEqual([200, 300, 400, null]);
		const half: Basis = { kind: 'percent-of', percent: 0.5, account: 'base' };
		const base = [typed('accounts', 'base', 'a', [2, 4, 6, 8])];
		expect(rent({ months: 4, series: base, bases: { a: half }, adjustments: later })).toEqual([
			null,
			1,
			2,
			3
		]);
		const posted = [typed('m', 'x', 'a', [5, 6, 7, 8])];
		expect(rent({ months: 4, series: posted, posts: true, adjustments: adjust(shift(-2)) })).toEqual([
			7,
			8,
			null,
			null
		]);
	});
	it('is changed in the order of the steps: twice August, then a month later, is September', () => {
		const august = { from: at('2026-08'), to: at('2026-08') };
		const company = { months: 6, series: sixMonths };
		expect(rent({ ...company, adjustments: adjust(times(2, august), shift(1)) })).toEqual([
			null,
			10,
			40,
			30,
			40,
			50
		]);
		expect(rent({ ...company, adjustments: adjust(shift(1), times(2, august)) })).toEqual([
			null,
			20,
			20,
			30,
			40,
			50
		]);
	});
	it('is what it is set to, also where its plan is an error', () => {
		const endless: Basis = { kind: 'last-year', percent: 0 };
		const set = adjust(step({ operation: 'set', value: 7, to: JUL } as Partial<AdjustmentStep>));
		expect(
			rent({ months: 2, series: [], bases: { a: endless }, before: [NaN, 3], adjustments: set })
		).toEqual([7, 3]);
	});
	it('comes to what working it out cell by cell gives, for any steps over any plan of three years', () => {
		const MONTHS = 30;
		const amount = fc.option(fc.integer({ min: -40, max: 40 }));
		const plan = fc.array(amount, { minLength: MONTHS, maxLength: MONTHS });
		const scope = fc.record({
			from: fc.option(fc.integer({ min: JUL - 2, max: JUL + MONTHS }), { nil: undefined }),
			to: fc.option(fc.integer({ min: JUL - 2, max: JUL + MONTHS + 2 }), { nil: undefined }),
			where: fc.constantFrom<Record<string, string>>({}, { department: 'a' }, { department: 'b' })
		});
		const steps = fc.array(
			fc.oneof(
				fc.record({
					operation: fc.constantFrom('multiply', 'add', 'set'),
					value: fc.integer({ min: -4, max: 4 })
				}),
				fc.record({ operation: fc.constant('shift'), periods: fc.integer({ min: -2, max: 5 }) })
			),
			{ minLength: 1, maxLength: 4 }
		);
		fc.assert(
			fc.property(
				plan,
				fc.boolean(),
				fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 12, maxLength: 12 }),
				steps.chain((list) =>
					fc.tuple(...list.map((s) => scope.map((sc) => step({ ...s, ...sc } as Partial<AdjustmentStep>))))
				),
				(cells, based, before, list) => {
					const company: Company = {
						months: MONTHS,
						series: DEPARTMENTS.map((d) => typed('accounts', 'rent', d, cells)),
						bases: based
							? { a: { kind: 'last-year', percent: 1 }, b: { kind: 'last-year', percent: 1 } }
							: {},
						before,
						adjustments: adjust(...list)
					};
					DEPARTMENTS.forEach((department, row) => {
						const expected = workedOut(cells, based, before, list, department);
						rent(company, row).forEach((value, t) =>
							// 0 and −0 are one figure.
							expect(typeof value === 'number' ? value + 0 : value, `month ${t}`).toBe(expected(t))
						);
					});
				}
			),
			{ numRuns: 150 }
		);
	});
});

/** What the account comes to in a month, counted from July: its plan, then step by step. */
function workedOut(
	cells: readonly (number | null)[],
	based: boolean,
	before: readonly number[],
	steps: readonly AdjustmentStep[],
	department: string
): (t: number) => number | null {
	const end = (t: number): number | null => after(steps.length, t);
	const after = (n: number, t: number): number | null => {
		if (n === 0) return cells[t] ?? (!based ? null : t < 12 ? before[t] * 2 : twice(end(t - 12)));
		const own = steps[n - 1];
		const from = Math.max(0, (own.from ?? JUL) - JUL);
		const to = Math.min(cells.length - 1, (own.to ?? Infinity) - JUL);
		const inScope = (month: number) => month >= from && month <= to;
		const applies = inScope(t) && [undefined, department].includes(own.where.department);
		if (!applies) return after(n - 1, t);
		if (own.operation === 'shift') return inScope(t - own.periods) ? after(n - 1, t - own.periods) : null;
		if (own.operation === 'set') return Number(own.value) + 0;
		const was = after(n - 1, t);
		if (own.operation === 'add') return (was ?? 0) + own.value;
		return was === null ? null : was * own.value + 0;
	};
	// A basis is calculated: of a blank it makes 0.
	const twice = (v: number | null) => (v ?? 0) * 2;
	return (t) => {
		const value = end(t);
		return value === null ? null : value + 0;
	};
}
