/** A scenario worked live under adjustments: always what calculating it anew would give. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { ModelDefinition } from '../blocks/driver-model/schema';
import type { Account } from '../company/schema';
import type { Series } from '../inputs/series';
import type { Adjustment, AdjustmentStep } from '../inputs/adjust';
import { calculateScenario } from '../scenario/assemble';
import { packageFromBytes, packageToBytes, packScenario } from '../scenario/package';
import type { ScenarioData } from '../scenario/data';
import { buildStructure } from '../company/structure';
import { bridgeOf } from './effects';
import { measured, type Measure } from './measure';
import { WhatIf } from './what-if';

const calendar = monthCalendar(1);
const JAN = calendar.parse('2027-01')!;
const account = (code: string, parent: string | null, type: Account['type']): Account => ({
	code,
	name: code,
	parent,
	type,
	rollup: 'sum',
	format: 'money'
});
const structure = buildStructure(
	calendar,
	[
		account('profit', null, 'revenue'),
		account('sales', 'profit', 'revenue'),
		account('rent', 'profit', 'expense'),
		account('ads', 'profit', 'expense')
	],
	[
		{ code: 'all', name: 'All', parent: null, entity: 'e' },
		{ code: 'north', name: 'North', parent: 'all', entity: 'e' },
		{ code: 'south', name: 'South', parent: 'all', entity: 'e' }
	],
	[],
	'EUR'
);
const definition = ModelDefinition.parse({
	code: 'shop',
	name: 'Shop',
	dimensions: ['department'],
	lines: [
		{ code: 'visits', label: 'Visits' },
		{
			code: 'basket',
			label: 'Basket',
			format: 'price',
			rollup: { time: 'formula', members: 'weighted:visits' }
		},
		{ code: 'income', label: 'Income', format: 'money', formula: 'visits * basket' }
	],
	postings: [{ line: 'income', account: { code: 'sales' }, department: { attribute: 'department.code' } }]
});
const typed = (block: string, line: string, row: string, values: number[]): Series => ({
	block,
	line,
	row,
	first: JAN,
	values: Float64Array.from(values)
});
const year = (v: (t: number) => number) => Array.from({ length: 12 }, (_, t) => v(t));
const data: ScenarioData = {
	scenario: {
		code: 's',
		name: 'S',
		kind: 'what-if',
		first: JAN,
		last: JAN + 11,
		actualsThrough: null,
		follows: null,
		origin: null,
		locked: false,
		description: ''
	},
	models: [{ definition, rows: [['north'], ['south']] }],
	series: [
		typed(
			'shop',
			'visits',
			'north',
			year((t) => 100 + t)
		),
		typed(
			'shop',
			'visits',
			'south',
			year((t) => 50 + 2 * t)
		),
		typed(
			'shop',
			'basket',
			'north',
			year(() => 12.5)
		),
		typed(
			'shop',
			'basket',
			'south',
			year((t) => 10 + t / 8)
		),
		typed(
			'accounts',
			'rent',
			'north',
			year(() => 300)
		),
		typed(
			'accounts',
			'rent',
			'south',
			year(() => 200)
		)
	],
	bases: [
		{ account: 'ads', department: 'north', basis: { kind: 'percent-of', account: 'sales', percent: 0.1 } },
		{ account: 'ads', department: 'south', basis: { kind: 'percent-of', account: 'sales', percent: 0.1 } }
	],
	history: { first: JAN, accounts: new Map() }
};
const span = { from: JAN, to: JAN + 11 };
const profit: Measure = { kind: 'account', account: 'profit', department: 'all' };
const step = (line: string, more: Partial<AdjustmentStep> & Record<string, unknown>): AdjustmentStep =>
	({
		lines: [line === 'rent' || line === 'ads' ? { block: 'accounts', line } : { block: 'shop', line }],
		where: {},
		operation: 'multiply',
		value: 1.1,
		...more
	}) as AdjustmentStep;
const adjustment = (code: string, ...steps: AdjustmentStep[]): Adjustment => ({
	code,
	name: code,
	on: true,
	steps
});
const dearer = adjustment('dearer', step('basket', {}));
const busier = adjustment(
	'busier',
	step('visits', { operation: 'add', value: 10, where: { department: 'south' } })
);
const cheaper = adjustment('cheaper', step('rent', { value: 0.5, from: JAN + 6 }));
const live = (adjustments: Adjustment[] = []) =>
	new WhatIf(packageFromBytes(packageToBytes(packScenario(structure, { ...data, adjustments }))));
const anew = (adjustments: Adjustment[], measure = profit) =>
	measured(calculateScenario(structure, { ...data, adjustments }), measure, span);

describe('worked live', () => {
	it('each adjustment does what calculating with and without it says', () => {
		const list = [dearer, busier, { ...cheaper, on: false }];
		const [effect, sales] = live(list).effects([profit, { ...profit, account: 'sales' }], span);
		expect(effect.without).toBe(anew([]));
		expect(effect.with).toBe(anew([dearer, busier]));
		expect(effect.effects[0]).toBeCloseTo(anew([dearer]) - anew([]), 9);
		expect(effect.effects[1]).toBeCloseTo(anew([dearer, busier]) - anew([dearer]), 9);
		expect(effect.effects[2]).toBe(0);
		expect(sales.with).toBe(anew([dearer, busier], { ...profit, account: 'sales' }));
	});
	it('the bridge leads from one end to the other', () => {
		const list = [dearer, busier, cheaper];
		const { start, steps, end } = bridgeOf(live(list).effects([profit], span)[0], list);
		expect([start, end]).toEqual([anew([]), anew([dearer, busier, cheaper])]);
		expect(steps.map((s) => s.name)).toEqual(['dearer', 'busier', 'cheaper']);
		expect(steps.reduce((sum, s) => sum + s.amount, start)).toBeCloseTo(end, 9);
		// Half a year's rent is halved.
		expect(steps[2].amount).toBeCloseTo(6 * 250, 9);
	});
	it('a line of a model can be watched, rolled up in its own way', () => {
		const basket: Measure = { kind: 'line', model: 'shop', line: 'basket' };
		const income: Measure = { kind: 'line', model: 'shop', line: 'income' };
		const visits: Measure = { kind: 'line', model: 'shop', line: 'visits' };
		const [b, i, v] = live([dearer]).effects([basket, income, visits], span);
		expect(b.with as number).toBeCloseTo((i.with as number) / (v.with as number), 9);
		expect(b.with as number).toBeCloseTo((b.without as number) * 1.1, 9);
	});
	it('whatever is switched, slid and moved, it is what calculating it anew gives, to the bit', () => {
		const change = fc.record({
			on: fc.array(fc.boolean(), { minLength: 3, maxLength: 3 }),
			factor: fc.double({ min: 0.5, max: 2, noNaN: true }),
			order: fc.shuffledSubarray([0, 1, 2], { minLength: 3 }),
			shift: fc.integer({ min: -3, max: 3 })
		});
		fc.assert(
			fc.property(fc.array(change, { minLength: 1, maxLength: 5 }), (changes) => {
				const whatIf = live([dearer, busier, cheaper]);
				for (const { on, factor, order, shift } of changes) {
					const list = [
						{ ...dearer, on: on[0], steps: [step('basket', { value: factor })] },
						{ ...busier, on: on[1], steps: [step('visits', { operation: 'shift', periods: shift })] },
						{ ...cheaper, on: on[2], steps: [step('rent', { operation: 'set', value: factor * 100 })] }
					];
					const turned = order.map((i) => list[i]);
					whatIf.adjust(turned);
					expect(whatIf.effects([profit], span)[0].with).toBe(anew(turned));
				}
				whatIf.adjust([dearer, busier, cheaper].map((a) => ({ ...a, on: false })));
				expect(whatIf.effects([profit], span)[0].with).toBe(anew([]));
			}),
			{ numRuns: 25 }
		);
	});
	it('takes up an adjustment of other lines, and keeps the former ones when one cannot work', () => {
		const whatIf = live([dearer]);
		whatIf.adjust([dearer, cheaper]);
		expect(whatIf.effects([profit], span)[0].with).toBe(anew([dearer, cheaper]));
		expect(() => whatIf.adjust([adjustment('wrong', step('income', {}))])).toThrow('income is computed');
		expect(() => whatIf.adjust([adjustment('gone', step('nothing', {}))])).toThrow('is not there');
		expect(whatIf.effects([profit], span)[0].with).toBe(anew([dearer, cheaper]));
	});
});

describe('further questions', () => {
	it('find the value that reaches a goal, and change nothing', () => {
		const whatIf = live([dearer, cheaper]);
		const goal = anew([dearer, cheaper]) + 5000;
		const found = whatIf.seek('dearer', 0, profit, span, goal);
		expect(found.found).toBe(true);
		const there = { ...dearer, steps: [step('basket', { value: found.input })] };
		expect(Math.abs(anew([there, cheaper]) - goal)).toBeLessThan(0.006);
		expect(whatIf.effects([profit], span)[0].with).toBe(anew([dearer, cheaper]));
		// No rent at all is as far as it goes; below that it would be paid to us.
		expect(whatIf.seek('cheaper', 0, { ...profit, account: 'sales' }, span, 1)).toMatchObject({
			found: false,
			reason: 'no-effect'
		});
		const shifted = live([adjustment('later', step('visits', { operation: 'shift', periods: 1 }))]);
		expect(shifted.seek('later', 0, profit, span, goal).found).toBe(false);
	});
	it('move each driver alone, the farthest first, and put all back', () => {
		const whatIf = live([dearer]);
		const scope = (line: string) => ({ block: 'shop', line, where: {}, ...span });
		const names = whatIf.drivers().map((d) => d.line);
		expect(names).toEqual(['visits', 'basket']);
		const north = { ...scope('visits'), where: { department: 'north' } };
		const { base, drivers } = whatIf.tornado([north, scope('visits')], 0.2, profit, span);
		expect(base).toBe(anew([dearer]));
		expect(drivers.map((d) => d.driver)).toEqual([1, 0]);
		const more = adjustment('more', step('visits', { value: 1.2 }));
		expect(drivers[0].high).toBeCloseTo(anew([dearer, more]), 6);
		expect(whatIf.effects([profit], span)[0].with).toBe(anew([dearer]));
	});
	it('draw ranges month by month and over the window, the same for the same seed', () => {
		const whatIf = live([dearer]);
		const uncertain = [
			{
				driver: { block: 'shop', line: 'visits', where: {}, ...span },
				distribution: { kind: 'uniform' as const, low: 0.9, high: 1.1 }
			}
		];
		let told = 0;
		const run = () => whatIf.ranges(uncertain, profit, span, { trials: 200, seed: 4 }, (n) => (told = n));
		const first = run();
		expect(told).toBe(200);
		expect(run()).toEqual(first);
		const of = (p: number) => first.percentiles.find((x) => x.percentile === p)!.values;
		expect(of(50)).toHaveLength(13);
		const [low, high] = [0.9, 1.1].map((value) => anew([dearer, adjustment('x', step('visits', { value }))]));
		for (const p of [5, 25, 50, 75, 95]) {
			expect(of(p).at(-1)).toBeGreaterThanOrEqual(low - 1e-6);
			expect(of(p).at(-1)).toBeLessThanOrEqual(high + 1e-6);
		}
		expect(whatIf.effects([profit], span)[0].with).toBe(anew([dearer]));
	});
});
