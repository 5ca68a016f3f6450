/** Looking back at the year before, on calendars whose years are not equally long. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Calendar } from '../calendar/calendar';
import { calendarOf } from '../calendar/calendar-of';
import { mixedCalendar } from '../calendar/mixed';
import { yearBefore } from '../calendar/last-year';
import { WeekGrouping } from '../calendar/spec';
import type { Expr } from '../formula/ast';
import { parseFormula } from '../formula/parse';
import { axisOf } from './axis';
import { Calculation } from './calculation';
import { operandsAt } from './explain';
import type { OverTime } from './spec';
import { newMatrix, setCell } from './values';

const weeks = calendarOf({ kind: 'weeks', grouping: 'weeks', fiscalStart: 9, endsOn: 6, rule: 'nearest' });
const expr = (text: string) => parseFormula(text).expr!;

/** A line that holds each period's own ordinal, and another calculated from it. */
function over(calendar: Calendar, first: number, length: number, formula: Expr) {
	const seed = newMatrix(1, length);
	for (let t = 0; t < length; t++) setCell(seed, 0, t, first + t);
	const lines = [
		{ code: 'x', additive: true, seed },
		{ code: 'y', additive: true, rules: [{ from: 0, expr: formula }] }
	];
	return new Calculation(axisOf(calendar, first, length, 0), [
		{ id: 'm', dimensions: ['d'], rows: [['a']], lines }
	]).calculate();
}

describe('the year before, in formulas', () => {
	it('is the same number of a week, across a year of 53', () => {
		const first = weeks.parse('2027-W01')!;
		const c = over(weeks, first, 160, expr('year_ago(x)'));
		const before = (key: string) => {
			const value = c.cell('m', 'y', 0, weeks.parse(key)!);
			return typeof value === 'number' ? weeks.key(value) : value;
		};
		expect(before('2028-W52')).toBe('2027-W52');
		expect(before('2028-W53')).toBe('2027-W52');
		expect(before('2029-W01')).toBe('2028-W01');
		expect(before('2029-W52')).toBe('2028-W52');
		expect(before('2027-W05')).toBe(null);
		const [operand] = operandsAt(c, 'm', expr('year_ago(x)'), 0, weeks.parse('2029-W01')!);
		expect(weeks.key(operand.period)).toBe('2028-W01');
	});

	it('is asked of where the period stood when it is moved, in calendars of every kind', () => {
		const specs = fc.oneof(
			fc.record({ kind: fc.constant('months' as const), fiscalStart: fc.integer({ min: 1, max: 12 }) }),
			fc.record({
				kind: fc.constant('weeks' as const),
				grouping: fc.constantFrom(...WeekGrouping.options),
				fiscalStart: fc.integer({ min: 1, max: 12 }),
				endsOn: fc.integer({ min: 1, max: 7 }),
				rule: fc.constantFrom('last' as const, 'nearest' as const)
			})
		);
		fc.assert(
			fc.property(
				specs,
				fc.integer({ min: 2020, max: 2034 }),
				fc.integer({ min: -3, max: 60 }),
				(spec, year, moved) => {
					const calendar = calendarOf(spec.kind === 'months' ? { ...spec, dayCount: 'actual' } : spec);
					const first = calendar.yearStart(year);
					const length = calendar.yearStart(year + 3) - first;
					const formula = expr('year_ago(x)') as Expr & { kind: 'call' };
					const further: Expr = { kind: 'number', value: moved, span: { from: 0, to: 0 } };
					const c = over(calendar, first, length, { ...formula, args: [formula.args[0], further] });
					for (let p = first; p < first + length; p++) {
						if (p - moved < first || p - moved >= first + length) continue;
						const then = yearBefore(calendar, p - moved);
						expect(c.cell('m', 'y', 0, p)).toBe(then < first ? null : then);
					}
				}
			),
			{ numRuns: 60 }
		);
	});
});

describe('the year before where later years are coarser', () => {
	/** FY27 by months, FY28 by quarters, FY29 by halves, FY30 and FY31 by years. */
	const mixed = mixedCalendar({
		fiscalStart: 4,
		firstYear: 2027,
		grains: ['month', 'quarter', 'half', 'year']
	});
	const first = mixed.yearStart(2027);
	const length = mixed.yearStart(2032) - first;
	const OPEN = mixed.yearStart(2028) - first;
	const at = (key: string) => mixed.parse(key)!;
	/** Months of FY27 hold 1 to 12, what comes after is blank. */
	const typed = (overTime?: OverTime) => {
		const seed = newMatrix(1, length);
		for (let t = 0; t < length; t++) setCell(seed, 0, t, t < 12 ? t + 1 : null);
		return { code: 'x', additive: true, seed, overTime };
	};
	const one = (code: string, formula: string, from = 0, overTime?: OverTime) => ({
		code,
		additive: true,
		overTime,
		rules: [{ from, expr: expr(formula) }]
	});
	const calculate = (...lines: ReturnType<typeof one>[]) =>
		new Calculation(axisOf(mixed, first, length, OPEN), [
			{ id: 'm', dimensions: ['d'], rows: [['a']], lines: lines as never }
		]).calculate();
	const keys = ['2028-Q1', '2028-Q4', '2029-H1', '2029-H2', '2030-FY', '2031-FY'];

	it('is the sum of its months, their mean, or the last of them, as the line rolls up', () => {
		const of = (overTime?: OverTime) => {
			const c = calculate(typed(overTime) as never, one('y', 'year_ago(x)'));
			return ['2028-Q1', '2028-Q4'].map((k) => c.cell('m', 'y', 0, at(k)));
		};
		expect(of()).toEqual([1 + 2 + 3, 10 + 11 + 12]);
		expect(of('last')).toEqual([3, 12]);
		const [mean] = of('average');
		expect(mean).toBeCloseTo((1 * 30 + 2 * 31 + 3 * 30) / 91, 12);
	});

	it('lets a line grow on its own past, each year in its own periods', () => {
		const grows = { ...typed(), code: 'y', rules: [{ from: OPEN, expr: expr('year_ago(y) * 2') }] };
		const c = calculate(grows as never, one('before', 'year_ago(y)', OPEN));
		const year = 78;
		expect(keys.map((k) => c.cell('m', 'y', 0, at(k)))).toEqual([
			2 * 6,
			2 * 33,
			4 * (6 + 15),
			4 * (24 + 33),
			8 * year,
			16 * year
		]);
		expect(keys.map((k) => c.cell('m', 'before', 0, at(k)))).toEqual([
			6,
			33,
			2 * (6 + 15),
			2 * (24 + 33),
			4 * year,
			8 * year
		]);
		// An edit is followed through all years, to the same bits.
		c.setInput('m', 'y', 0, 0, 101);
		c.recalculate();
		expect(c.cell('m', 'y', 0, at('2031-FY'))).toBe(16 * (year + 100));
	});

	it('of a line of another block is as that one rolls up', () => {
		const c = new Calculation(axisOf(mixed, first, length, OPEN), [
			{ id: 'm', dimensions: ['d'], rows: [['a']], lines: [typed('last')] },
			{ id: 'n', dimensions: ['d'], rows: [['a']], lines: [one('y', 'year_ago(m.x)')] }
		]).calculate();
		expect(c.cell('n', 'y', 0, at('2028-Q1'))).toBe(3);
	});

	it('is explained by the periods that it is made of', () => {
		const c = calculate(typed() as never, one('y', 'year_ago(x)'));
		const told = (key: string) =>
			operandsAt(c, 'm', expr('year_ago(x)'), 0, at(key)).map((o) => [mixed.key(o.period), o.value]);
		expect(told('2028-Q1')).toEqual([
			['2026-04', 1],
			['2026-05', 2],
			['2026-06', 3]
		]);
		expect(told('2029-H1')).toEqual([
			['2028-Q1', null],
			['2028-Q2', null]
		]);
	});

	it('of a price is recomputed from what its operands were', () => {
		const price = { expr: expr('x / n') };
		const c = calculate(
			typed() as never,
			one('n', '2', 0),
			one('price', 'x / n', 0, price),
			one('y', 'year_ago(price)')
		);
		// April to June: 6 for three times 2.
		expect(c.cell('m', 'y', 0, at('2028-Q1'))).toBe(1);
	});
});
