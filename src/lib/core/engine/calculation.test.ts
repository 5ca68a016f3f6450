import { describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import { parseFormula } from '../formula/parse';
import { bareAxis, type Axis } from './axis';
import { Calculation } from './calculation';
import { operandsAt } from './explain';
import { ModelError, type BlockSpec } from './spec';
import { rollUp } from './rollup';
import { BLANK, marksOf, newMatrix, setCell, type Matrix } from './values';

const PERIODS = 6;
const axis: Axis = {
	...bareAxis(PERIODS, 2),
	first: 100,
	yearStart: Int32Array.from([0, 0, 0, 3, 3, 3])
};

function expr(text: string) {
	const parsed = parseFormula(text);
	if (!parsed.expr) throw new Error(`${text}: ${parsed.errors[0].message}`);
	return parsed.expr;
}
function input(rows: (number | null)[][]): Matrix {
	const m = newMatrix(rows.length, PERIODS);
	rows.forEach((row, r) => Array.from({ length: PERIODS }, (_, t) => setCell(m, r, t, row[t] ?? null)));
	return m;
}
const calc = (code: string, formula: string, from = 0) => ({
	code,
	additive: true,
	rules: [{ from, expr: expr(formula) }]
});
const given = (code: string, rows: (number | null)[][]) => ({ code, additive: true, seed: input(rows) });

function oneRow(lines: BlockSpec['lines']) {
	const c = new Calculation(axis, [{ id: 'm', dimensions: ['d'], rows: [['x']], lines }]).calculate();
	return (line: string) => Array.from({ length: PERIODS }, (_, t) => c.cell('m', line, 0, 100 + t));
}

describe('calculation of one block', () => {
	it('reads a blank as 0 in arithmetic and tells it from 0', () => {
		const at = oneRow([
			given('a', [[1, null, 0, 4, 5, 6]]),
			calc('b', 'a + 1'),
			calc('c', 'is_blank(a)'),
			calc('d', 'a')
		]);
		expect(at('b')).toEqual([2, 1, 1, 5, 6, 7]);
		expect(at('c')).toEqual([0, 1, 0, 0, 0, 0]);
		expect(at('d')).toEqual([1, null, 0, 4, 5, 6]);
	});

	it('takes a line for an expression that is summed up only where the line gives just that', () => {
		const rows = [
			[1, 2, 3, 4, 5, 6],
			[10, 20, 30, 40, 50, 60]
		];
		const sums = (...more: BlockSpec['lines'][number][]) => {
			const lines = [given('a', rows), ...more, calc('s', 'to_date(a * 2)')];
			const c = new Calculation(axis, [
				{ id: 'm', dimensions: ['d'], rows: [['x'], ['y']], lines }
			]).calculate();
			return rows.map((_, r) => c.cell('m', 's', r, 105));
		};
		expect(sums(calc('whole', 'a * 2'))).toEqual([42, 420]);
		expect(sums({ code: 'one', additive: true, rules: [{ rows: [0], expr: expr('a * 2') }] })).toEqual([
			42, 420
		]);
		expect(sums(calc('late', 'a * 2', 3))).toEqual([42, 420]);
		expect(sums({ ...calc('seeded', 'a * 2'), seed: input([[9], [9]]) })).toEqual([42, 420]);
	});

	it('lets errors flow, and only where they are', () => {
		const at = oneRow([
			given('a', [[1, 2, 0, 4, 5, 6]]),
			calc('b', '12 / a'),
			calc('c', 'b + 1'),
			calc('d', 'if(a = 0, 7, c)'),
			calc('e', 'ln(a - 4)')
		]);
		expect(at('b')).toEqual([12, 6, '#DIV/0!', 3, 2.4, 2]);
		expect(at('c')[2]).toBe('#DIV/0!');
		expect(at('d')).toEqual([13, 7, 7, 4, 12 / 5 + 1, 3]);
		expect(at('e')[3]).toBe('#NUM!');
		expect(at('e')[4]).toBe(0);
	});

	it('keeps what has grown beyond all numbers an error, and never lets it become 0', () => {
		const at = oneRow([
			given('a', [[1e300, 1, 1, 1, 1, 1]]),
			calc('big', 'a * a'),
			calc('part', '1 / big'),
			calc('share', 'ratio(5, big)'),
			calc('least', 'min(big, 5)'),
			calc('more', 'big > 5'),
			calc('none', 'round(1 / big)')
		]);
		for (const line of ['big', 'part', 'share', 'least', 'more', 'none'])
			expect(at(line)[0], line).toBe('#NUM!');
		expect(at('part')[1]).toBe(1);
	});

	it('gives a blank, or what is asked for, for a ratio by 0', () => {
		const at = oneRow([
			given('a', [[1, 2, 0, 4, 5, 6]]),
			calc('b', 'ratio(8, a)'),
			calc('c', 'ratio(8, a, -1)')
		]);
		expect(at('b')[2]).toBeNull();
		expect(at('b')[3]).toBe(2);
		expect(at('c')[2]).toBe(-1);
	});

	it('looks at other periods', () => {
		const at = oneRow([
			given('a', [[1, 2, 3, 4, 5, 6]]),
			calc('back', 'lag(a, 2)'),
			calc('year', 'ytd(a)'),
			calc('three', 'trailing(a, 3)'),
			calc('rate', 'run_rate(a, 2)'),
			calc('nested', 'lag(a * 2, 1) + opening(a)')
		]);
		expect(at('back')).toEqual([null, null, 1, 2, 3, 4]);
		expect(at('year')).toEqual([1, 3, 6, 4, 9, 15]);
		expect(at('three')).toEqual([1, 3, 6, 9, 12, 15]);
		expect(at('rate')).toEqual([1.5, 1.5, 1.5, 1.5, 1.5, 1.5]);
		expect(at('nested')).toEqual([0, 3, 6, 9, 12, 15]);
	});

	it('lets lines look at their own past, together', () => {
		const at = oneRow([
			given('additions', [[10, 20, 30, 0, 0, 5]]),
			calc('closing', 'opening_balance + additions'),
			calc('opening_balance', 'opening(closing)'),
			calc('price', 'if(is_blank(lag(price, 1)), 100, lag(price, 1)) * 110%')
		]);
		expect(at('closing')).toEqual([10, 30, 60, 60, 60, 65]);
		expect(at('price')[2]).toBeCloseTo(133.1, 10);
	});

	it('refuses a line that needs its own present, with the path', () => {
		const build = () => oneRow([calc('a', 'b * 2'), calc('b', 'c + 1'), calc('c', 'a - lag(a, 1)')]);
		expect(build).toThrow(ModelError);
		// A reads b, b reads c, c reads a: named from any of them, around and back to itself.
		expect(build).toThrow(/m\.a → m\.b → m\.c → m\.a|m\.b → m\.c → m\.a → m\.b|m\.c → m\.a → m\.b → m\.c/);
	});

	it('leaves closed periods blank before a rule begins', () => {
		const at = oneRow([calc('a', '5', 2), calc('b', 'a + 1', 2)]);
		expect(at('a')).toEqual([null, null, 5, 5, 5, 5]);
		expect(at('b')).toEqual([null, null, 6, 6, 6, 6]);
	});

	it.each([
		['round(2.5)', 3],
		['round(-2.5)', -3],
		['round(1.005, 2)', 1.01],
		['roundup(1.21, 1)', 1.3],
		['rounddown(-1.29, 1)', -1.2],
		['mod(-7, 3)', 2],
		['int(-1.5)', -2],
		['-2 ^ 2', 4],
		['2 ^ 3 ^ 2', 64],
		['50% * 8', 4],
		['max(1, 5, 3) - min(4, 2)', 3],
		['if(and(1 < 2, not(0)), 1, 2)', 1],
		['1 + 2 * 3 - 4 / 2', 5]
	])('%s is %d', (formula, expected) => {
		expect(oneRow([calc('x', formula)])('x')[0]).toBeCloseTo(expected, 12);
	});
});

describe('between blocks', () => {
	const rates: BlockSpec = {
		id: 'rates',
		dimensions: [],
		rows: [[]],
		lines: [given('rise', [[0, 1, 2, 3, 4, 5]])]
	};
	const sales: BlockSpec = {
		id: 'sales',
		dimensions: ['product', 'region'],
		rows: [
			['p', 'n'],
			['p', 's'],
			['q', 'n']
		],
		lines: [
			given('units', [
				[1, 1, 1, 1, 1, 1],
				[10, 10, 10, 10, 10, 10],
				[100, 100, 100, 100, 100, 100]
			])
		]
	};
	it('broadcasts over missing dimensions and sums over extra ones', () => {
		const by: BlockSpec = {
			id: 'by',
			dimensions: ['region'],
			rows: [['n'], ['s'], ['w']],
			lines: [calc('all', 'sales.units * rates.rise')]
		};
		const c = new Calculation(axis, [rates, sales, by]).calculate();
		expect([0, 1, 2].map((r) => c.cell('by', 'all', r, 102))).toEqual([202, 20, 0]);
	});
	it('refuses to sum what is no sum', () => {
		const price = { ...sales, lines: [{ ...sales.lines[0], additive: false }] };
		const by: BlockSpec = { id: 'by', dimensions: [], rows: [[]], lines: [calc('all', 'sales.units')] };
		expect(() => new Calculation(axis, [price, by])).toThrow(/cannot be summed over product and region/);
	});
	it('posts rows into another block from the first open period on', () => {
		const accounts: BlockSpec = {
			id: 'accounts',
			dimensions: ['department'],
			rows: [['a'], ['b']],
			lines: [
				{
					code: '4000',
					additive: true,
					inflows: [{ block: 'sales', line: 'units', index: Int32Array.from([0, 1, 0]) }]
				}
			]
		};
		const c = new Calculation(axis, [sales, accounts]).calculate();
		expect(c.cell('accounts', '4000', 0, 103)).toBe(101);
		expect(c.cell('accounts', '4000', 1, 103)).toBe(10);
		expect(c.cell('accounts', '4000', 0, 101)).toBe(0);
	});
	it('tells the values that were put into a formula', () => {
		const own: BlockSpec = {
			id: 'own',
			dimensions: ['product'],
			rows: [['p'], ['q']],
			lines: [
				given('x', [
					[1, 2, 3, 4, 5, 6],
					[7, 8, 9, 10, 11, 12]
				]),
				calc('y', 'lag(x, 1) * rates.rise')
			]
		};
		const c = new Calculation(axis, [rates, own]).calculate();
		const rule = c.ruleAt('own', 'y', 1, 103)!;
		expect(operandsAt(c, 'own', rule.expr, 1, 103).map((o) => [o.line, o.period, o.value])).toEqual([
			['x', 102, 9],
			['rise', 103, 3]
		]);
	});
});

describe('more rows than are worked on at once', () => {
	const MANY = 3000;
	const rows = Array.from({ length: MANY }, (_, r) => [`r${r}`]);
	const value = (r: number, t: number) => (r % 7) + t;
	const own = given(
		'own',
		rows.map((_, r) => Array.from({ length: PERIODS }, (_, t) => value(r, t)))
	);
	it('give each what is its own where rows wait for all the others of two periods ago', () => {
		const c = new Calculation(axis, [
			{
				id: 'parts',
				dimensions: ['d'],
				rows,
				lines: [own, calc('x', '(own + 1) * 2 + lag(all.y, 2) * 0.5')]
			},
			{ id: 'all', dimensions: [], rows: [[]], lines: [calc('y', 'parts.x')] }
		]).calculate();
		const totals: number[] = [];
		for (let t = 0; t < PERIODS; t++) {
			const before = t < 2 ? 0 : totals[t - 2] * 0.5;
			for (const r of [0, 1, 1500, MANY - 1])
				expect(c.cell('parts', 'x', r, 100 + t)).toBe((value(r, t) + 1) * 2 + before);
			totals[t] = rows.reduce((sum, _, r) => sum + (value(r, t) + 1) * 2 + before, 0);
			expect(c.cell('all', 'y', 0, 100 + t)).toBeCloseTo(totals[t], 3);
		}
	});
	it('know of what is the same in all periods, row by row', () => {
		const column = newMatrix(MANY, 1);
		rows.forEach((_, r) => setCell(column, r, 0, r % 5 === 0 ? null : r));
		const c = new Calculation(axis, [
			{
				id: 'm',
				dimensions: ['d'],
				rows,
				lines: [
					{ code: 'k', additive: true, overTime: 'last', seed: { ...column, timeless: true } },
					own,
					calc('z', 'max(k * 2, 3) + own + if(is_blank(k), 100, coalesce(k, 1)) + trunc(k / 4)')
				]
			}
		]).calculate();
		for (const r of [0, 1, 4, 5, 63, 64, 2047, 2048, MANY - 1])
			for (let t = 0; t < PERIODS; t++) {
				const k = r % 5 === 0 ? null : r;
				const rest = k === null ? 100 : k + Math.trunc(k / 4);
				expect(c.cell('m', 'z', r, 100 + t)).toBe(Math.max((k ?? 0) * 2, 3) + value(r, t) + rest);
			}
	});
});

describe('incremental calculation', () => {
	const formulas = [
		'a + b',
		'a * 2 - lag(b, 1)',
		'ytd(a)',
		'ratio(b, a)',
		'trailing(a + b, 3)',
		'if(a > b, a, opening(c))'
	];
	const build = (values: number[], chosen: string[]) => {
		const half = values.length / 2;
		const row = (v: number[], r: number) => v.slice(r * PERIODS, (r + 1) * PERIODS);
		return new Calculation(axis, [
			{
				id: 'm',
				dimensions: ['d'],
				rows: [['1'], ['2'], ['3']],
				lines: [
					given(
						'a',
						[0, 1, 2].map((r) => row(values.slice(0, half), r))
					),
					given(
						'b',
						[0, 1, 2].map((r) => row(values.slice(half), r))
					),
					calc('c', chosen[0]),
					calc('e', chosen[1].replace('opening(c)', 'opening(e)') + ' + c')
				]
			}
		]).calculate();
	};
	it('gives the same bits as calculating everything', () => {
		const value = fc.integer({ min: -50, max: 50 });
		fc.assert(
			fc.property(
				fc.array(value, { minLength: 36, maxLength: 36 }),
				fc.tuple(fc.constantFrom(...formulas), fc.constantFrom(...formulas)),
				fc.array(fc.tuple(fc.constantFrom('a', 'b'), fc.nat(2), fc.nat(PERIODS - 1), fc.option(value)), {
					minLength: 1,
					maxLength: 6
				}),
				(values, chosen, edits) => {
					const incremental = build(values, chosen);
					const full = build(values, chosen);
					for (const [line, row, t, v] of edits) {
						incremental.setInput('m', line, row, t, v);
						incremental.recalculate();
						full.setInput('m', line, row, t, v);
					}
					full.calculate();
					for (const line of ['c', 'e'])
						for (let r = 0; r < 3; r++)
							for (let t = 0; t < PERIODS; t++)
								expect(incremental.cell('m', line, r, 100 + t)).toBe(full.cell('m', line, r, 100 + t));
					// What all the edits together have changed lies where it is said to.
					const former = build(values, chosen);
					for (const line of ['a', 'b', 'c', 'e']) {
						const reach = incremental.reachOf('m', line);
						for (let r = 0; r < 3; r++)
							for (let t = 0; t < PERIODS; t++)
								if (!reach || r < reach.lo || r >= reach.hi || t < reach.from)
									expect(incremental.cell('m', line, r, 100 + t)).toBe(former.cell('m', line, r, 100 + t));
					}
				}
			),
			{ numRuns: 200 }
		);
	});
});

describe('roll-up', () => {
	const units = input([
		[1, 2, 3, 4, 5, 6],
		[10, 20, 30, 40, 50, null]
	]);
	const price = input([
		[5, 5, 5, 5, 5, 5],
		[2, 2, 2, 2, 2, 2]
	]);
	const revenue = newMatrix(2, PERIODS);
	for (let i = 0; i < revenue.values.length; i++) revenue.values[i] = units.values[i] * price.values[i];
	const lines = { units, price, revenue };
	const grouping = {
		rows: Int32Array.from([0, 0]),
		groups: 1,
		periods: Int32Array.from([-1, -1, -1, 0, 0, 0]),
		buckets: 1
	};
	const at = (line: string, m: Map<string, Matrix>) => m.get(line)!.values[0];
	it('recomputes a formula from rolled-up operands, and weighs by another line', () => {
		const result = rollUp(
			(l) => lines[l as keyof typeof lines],
			[
				{ code: 'units', time: 'sum', members: 'sum', expr: null },
				{ code: 'revenue', time: 'sum', members: 'sum', expr: null },
				{ code: 'price', time: 'formula', members: 'weighted:units', expr: null },
				{ code: 'average_price', time: 'formula', members: 'formula', expr: expr('ratio(revenue, units)') }
			] as never,
			grouping
		);
		expect(at('units', result)).toBe(105);
		expect(at('revenue', result)).toBe(75 + 180);
		expect(at('price', result)).toBeCloseTo(255 / 105, 12);
		expect(at('average_price', result)).toBeCloseTo(255 / 105, 12);
	});
	it('takes the last period, and averages over the periods that hold a number', () => {
		const time = (t: 'last' | 'average') =>
			at(
				'units',
				rollUp(() => units, [{ code: 'units', time: t, members: 'sum', expr: null }], grouping)
			);
		expect(time('last')).toBe(6);
		expect(time('average')).toBe(105 / 3);
		const second = { ...grouping, rows: Int32Array.from([-1, 0]) };
		expect(
			at(
				'units',
				rollUp(() => units, [{ code: 'units', time: 'average', members: 'sum', expr: null }], second)
			)
		).toBe(45);
	});
	it('keeps a blank group blank', () => {
		const empty = newMatrix(1, PERIODS);
		marksOf(empty).fill(BLANK);
		const g = { ...grouping, rows: Int32Array.from([0]) };
		const m = rollUp(() => empty, [{ code: 'x', time: 'sum', members: 'sum', expr: null }], g).get('x')!;
		expect(m.marks![0]).toBe(BLANK);
	});
});
