/** Looking back at the year before, on calendars whose years are not equally long. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Calendar } from '../calendar/calendar';
import { calendarOf } from '../calendar/calendar-of';
import { yearBefore } from '../calendar/last-year';
import { WeekGrouping } from '../calendar/spec';
import type { Expr } from '../formula/ast';
import { parseFormula } from '../formula/parse';
import { axisOf } from './axis';
import { Calculation } from './calculation';
import { operandsAt } from './explain';
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
