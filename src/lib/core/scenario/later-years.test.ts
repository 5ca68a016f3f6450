/** Scenarios whose later years have coarser periods than months. */
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { ModelDefinition } from '../blocks/driver-model/schema';
import { buildStructure } from '../company/structure';
import type { Account } from '../company/schema';
import { newMatrix, setCell } from '../engine/values';
import type { Basis } from '../inputs/basis';
import { overTime } from '../statements/statement';
import { totalsOf } from '../statements/totals';
import { calculateScenario } from './assemble';
import { inOwnPeriods, scenarioCalendar, structureIn } from './calendar';
import type { ScenarioData } from './data';
import type { Scenario } from './schema';

const months = monthCalendar(4);
const at = (key: string) => months.parse(key)!;
const account = (
	code: string,
	parent: string | null,
	type: Account['type'],
	rollup: Account['rollup'] = 'sum'
): Account => ({
	code,
	name: code,
	parent,
	type,
	rollup,
	format: 'money'
});
const structure = buildStructure(
	months,
	[
		account('profit', null, 'revenue'),
		account('sales', 'profit', 'revenue'),
		account('wages', 'profit', 'expense'),
		account('rent', 'profit', 'expense'),
		account('heads', null, 'statistical', 'average'),
		account('desks', null, 'statistical', 'average')
	],
	[{ code: 'a', name: 'A', parent: null, entity: 'e' }],
	[],
	'GBP'
);
/** FY26: 100, 101, … of wages, 12 heads. */
const history = {
	first: at('2025-04'),
	accounts: new Map(
		(['wages', 'rent', 'heads', 'desks'] as const).map((code) => {
			const m = newMatrix(1, 12);
			for (let t = 0; t < 12; t++) setCell(m, 0, t, code === 'wages' || code === 'rent' ? 100 + t : 12);
			return [code, m] as const;
		})
	)
};
const orders = ModelDefinition.parse({
	code: 'orders',
	name: 'Orders',
	lines: [
		{ code: 'units', label: 'Units', closed: 'keep' },
		{
			code: 'price',
			label: 'Price',
			closed: 'keep',
			rollup: { time: 'formula', members: 'weighted:units' },
			scoped: [{ where: {}, from: '2028-11', formula: '3' }]
		},
		{ code: 'income', label: 'Income', formula: 'units * price', format: 'money' }
	],
	postings: [{ line: 'income', account: { code: 'sales' }, department: { code: 'a' } }]
});
const scenario = (later: Scenario['laterYears']): Scenario => ({
	code: 's',
	name: 'S',
	kind: 'long-range',
	first: at('2026-04'),
	last: at('2031-03'),
	laterYears: later,
	actualsThrough: at('2026-03'),
	follows: null,
	origin: null,
	locked: false,
	description: ''
});
/** FY27 by months, FY28 by quarters, FY29 by halves, then years. */
const COARSER: Scenario['laterYears'] = { firstYear: 2028, grains: ['quarter', 'half', 'year'] };

function plan(later: Scenario['laterYears']) {
	const own = scenario(later);
	const calendar = scenarioCalendar(months, own);
	const { from, to } = { from: own.first, to: calendar.yearStart(2032) - 1 };
	const values = (of: (year: number) => number) =>
		Float64Array.from({ length: to - from + 1 }, (_, i) => of(calendar.fiscalYear(from + i)));
	const basis = (code: string, basis: Basis) => ({ account: code, department: 'a', basis });
	const data: ScenarioData = {
		scenario: inOwnPeriods(own, months),
		models: [{ definition: orders, rows: [] }],
		bases: [
			basis('wages', { kind: 'last-year', percent: 0.1 }),
			basis('rent', { kind: 'run-rate', months: 3 }),
			basis('heads', { kind: 'last-year', percent: 0 }),
			basis('desks', { kind: 'run-rate', months: 3 })
		],
		series: [
			{ block: 'orders', line: 'units', row: '', first: from, values: values((y) => y - 2020) },
			{ block: 'orders', line: 'price', row: '', first: from, values: values(() => 2) }
		],
		history
	};
	return { plan: calculateScenario(structureIn(structure, own), data), calendar };
}

describe('a scenario that is coarser in later years', () => {
	const { plan: coarse, calendar } = plan(COARSER);
	const { plan: fine } = plan(null);

	it('ends with the year that it ends with, each year in its own periods', () => {
		expect(calendar.key(coarse.scenario.last)).toBe('2031-FY');
		expect(coarse.calculation.axis.length).toBe(12 + 12 + 4 + 2 + 2);
		expect(coarse.open).toBe(at('2026-04'));
	});

	it('has the totals of each year that months give, whether last year or a run-rate says what they are', () => {
		const [a, b] = [totalsOf(coarse), totalsOf(fine)];
		for (const year of [2027, 2028, 2029, 2030, 2031])
			for (const code of ['wages', 'rent', 'heads', 'desks']) {
				const total = (totals: typeof a, of: typeof months) =>
					overTime(totals.of(code, 'a'), of.yearStart(year), of.yearStart(year + 1) - 1);
				expect(total(a, calendar), `${code} ${year}`).toBeCloseTo(total(b, months) as number, 8);
			}
		expect(overTime(a.of('wages', 'a'), calendar.parse('2028-Q1')!, calendar.parse('2028-Q1')!)).toBeCloseTo(
			(100 + 101 + 102) * 1.21,
			8
		);
	});

	it('posts what models give, and takes a formula from the period on that holds its month', () => {
		const income = (key: string) => coarse.calculation.cell('orders', 'income', 0, calendar.parse(key)!);
		// November 2028 lies in the second half of FY29.
		expect(['2028-Q4', '2029-H1', '2029-H2', '2030-FY'].map(income)).toEqual([8 * 2, 9 * 2, 9 * 3, 10 * 3]);
		const sales = totalsOf(coarse).of('sales', 'a');
		expect(overTime(sales, calendar.yearStart(2029), calendar.yearStart(2030) - 1)).toBe(9 * 2 + 9 * 3);
	});

	it('is read in months by days, so that nothing is lost', () => {
		const there = totalsOf(coarse, months);
		const wages = there.of('wages', 'a');
		const may = overTime(wages, at('2027-05'), at('2027-05')) as number;
		expect(may).toBeCloseTo((303 * 1.21 * 31) / 91, 8);
		const own = totalsOf(coarse).of('wages', 'a');
		for (const year of [2027, 2028, 2029, 2031])
			expect(overTime(wages, months.yearStart(year), months.yearStart(year + 1) - 1)).toBeCloseTo(
				overTime(own, calendar.yearStart(year), calendar.yearStart(year + 1) - 1) as number,
				8
			);
		expect(overTime(there.of('heads', 'a'), at('2030-07'), at('2030-07'))).toBe(12);
	});

	it('belongs to a company of months', () => {
		const weeks = { kind: 'weeks', grouping: 'weeks', fiscalStart: 1, endsOn: 7, rule: 'nearest' } as const;
		expect(() => scenarioCalendar({ ...months, spec: weeks }, scenario(COARSER))).toThrow(/months alone/);
		expect(structureIn(structure, scenario(null))).toBe(structure);
		expect(structureIn(structure, scenario(COARSER))).toBe(structureIn(structure, scenario(COARSER)));
	});
});
