/** Calendars of weeks, of mixed granularity and of 30/360, and values carried between them. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { half, monthCalendar, periodRange, type Calendar } from './calendar';
import { days360, fromIsoDate, fromSerial, toIsoDate, toSerial, weekday } from './dates';
import { mixedCalendar } from './mixed';
import type { WeekGrouping } from './spec';
import { weekCalendar } from './weeks';

const SUNDAY = 7;
const SATURDAY = 6;
const retail = (grouping: WeekGrouping) =>
	weekCalendar(grouping, { fiscalStart: 2, endsOn: SATURDAY, rule: 'nearest' });
const weeksIn = (c: Calendar, fy: number) =>
	periodRange(c.yearStart(fy), c.yearStart(fy + 1) - 1).map((p) => c.days(p) / 7);

describe('days', () => {
	it('are numbered as in spreadsheets', () => {
		expect(fromIsoDate('2026-11-23')).toBe(46349);
		expect(toIsoDate(46349)).toBe('2026-11-23');
		expect(weekday(46349)).toBe(1);
		expect(fromIsoDate('2026-02-29')).toBeNull();
		expect(fromIsoDate('2026-13-01')).toBeNull();
	});
	it('are those of the standard calendar, also beyond the ends of months and years', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1800, max: 2500 }),
				fc.integer({ min: -30, max: 40 }),
				fc.integer({ min: -400, max: 400 }),
				(year, month, day) => {
					const date = new Date(Date.UTC(year, month - 1, day));
					const serial = toSerial(year, month, day);
					expect(serial).toBe(Math.round((date.getTime() - Date.UTC(1899, 11, 30)) / 86_400_000));
					expect(fromSerial(serial)).toEqual({
						year: date.getUTCFullYear(),
						month: date.getUTCMonth() + 1,
						day: date.getUTCDate()
					});
				}
			),
			{ numRuns: 2000 }
		);
	});
	it('go there and back', () => {
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 180_000 }), (n) => {
				const { year, month, day } = fromSerial(n);
				expect(toSerial(year, month, day)).toBe(n);
				expect(fromIsoDate(toIsoDate(n))).toBe(n);
			})
		);
	});
	it('count 30 to a month where the calendar says so', () => {
		const c = monthCalendar(4, '30/360');
		const february = c.parse('2027-02')!;
		expect([c.days(february), c.days(february + 1)]).toEqual([30, 30]);
		const span = (a: string, b: string) => days360(fromIsoDate(a)!, fromIsoDate(b)!);
		expect(span('2027-02-01', '2027-02-28')).toBe(30);
		expect(span('2027-01-01', '2027-12-31')).toBe(360);
		expect(span('2027-03-16', '2027-03-31')).toBe(15);
		expect(span('2027-03-16', '2027-03-15')).toBe(0);
	});
});

describe('a calendar of weeks', () => {
	it('groups 52 weeks into months and quarters, and puts a leap week at the end', () => {
		expect(weeksIn(retail('4-4-5'), 2026)).toEqual([4, 4, 5, 4, 4, 5, 4, 4, 5, 4, 4, 5]);
		expect(weeksIn(retail('4-5-4'), 2026).slice(0, 3)).toEqual([4, 5, 4]);
		expect(weeksIn(retail('5-4-4'), 2026).slice(0, 3)).toEqual([5, 4, 4]);
		expect(weeksIn(retail('13x4'), 2026)).toEqual(Array(13).fill(4));
		const years = Array.from({ length: 60 }, (_, i) => 2000 + i);
		const leap = years.filter((fy) => weeksIn(retail('weeks'), fy).length === 53);
		expect(leap.length).toBeGreaterThan(9);
		expect(leap.length).toBeLessThan(13);
		expect(weeksIn(retail('4-4-5'), leap[0]).at(-1)).toBe(6);
		expect(weeksIn(retail('13x4'), leap[0]).at(-1)).toBe(5);
	});
	it('ends its year on the weekday nearest to the month’s end, or on the last one in it', () => {
		const nearest = retail('4-4-5');
		const last = weekCalendar('4-4-5', { fiscalStart: 2, endsOn: SATURDAY, rule: 'last' });
		// January 2026 ends on a Saturday; January 2027 on a Sunday; January 2024 on a Wednesday.
		expect(nearest.lastDay(nearest.yearStart(2027) - 1)).toBe('2026-01-31');
		expect(nearest.lastDay(nearest.yearStart(2028) - 1)).toBe('2027-01-30');
		expect(nearest.lastDay(nearest.yearStart(2025) - 1)).toBe('2024-02-03');
		expect(last.lastDay(last.yearStart(2025) - 1)).toBe('2024-01-27');
	});
	it('names periods and reads their names', () => {
		const c = retail('4-4-5');
		const p = c.parse('2027-P03')!;
		expect([c.key(p), c.label(p), c.quarter(p), c.fiscalYear(p)]).toEqual(['2027-P03', 'P3 FY27', 1, 2027]);
		expect([c.parse('2027-P13'), c.parse('2027-W01'), c.parse('x')]).toEqual([null, null, null]);
		const w = weekCalendar('weeks', { fiscalStart: 1, endsOn: SUNDAY, rule: 'nearest' });
		// With weeks that end on Sunday and the year's end nearest to December's, weeks are those of ISO 8601.
		expect(w.key(w.periodOf('2026-11-23')!)).toBe('2026-W48');
		expect(w.key(w.periodOf('2027-01-01')!)).toBe('2026-W53');
		expect(() => weekCalendar('weeks', { fiscalStart: 1, endsOn: 8, rule: 'last' })).toThrow(/weekday/);
	});
	it('has four quarters of thirteen weeks, thirteen fours in 3, 3, 3 and 4', () => {
		const quarters = (c: Calendar) =>
			[1, 2, 3, 4].map(
				(q) => periodRange(c.yearStart(2026), c.yearStart(2027) - 1).filter((p) => c.quarter(p) === q).length
			);
		expect(quarters(retail('weeks'))).toEqual([13, 13, 13, 13]);
		expect(quarters(retail('13x4'))).toEqual([3, 3, 3, 4]);
		expect(quarters(retail('4-4-5'))).toEqual([3, 3, 3, 3]);
		expect(half(retail('4-4-5'), retail('4-4-5').yearStart(2026) + 6)).toBe(2);
	});
});

describe('a calendar of mixed granularity', () => {
	const c = mixedCalendar({ fiscalStart: 4, firstYear: 2027, grains: ['month', 'quarter', 'half', 'year'] });
	it('has months, quarters, halves or years by fiscal year', () => {
		const counts = [2026, 2027, 2028, 2029, 2030, 2031].map((fy) => c.yearStart(fy + 1) - c.yearStart(fy));
		expect(counts).toEqual([12, 12, 4, 2, 1, 1]);
		const p = c.periodOf('2028-11-15')!;
		expect([c.key(p), c.label(p), c.firstDay(p), c.lastDay(p), c.days(p)]).toEqual([
			'2029-H2',
			'H2 FY29',
			'2028-10-01',
			'2029-03-31',
			182
		]);
		expect(c.key(c.periodOf('2027-08-01')!)).toBe('2028-Q2');
		expect(c.key(c.periodOf('2026-08-01')!)).toBe('2026-08');
		expect(c.key(c.periodOf('2031-01-01')!)).toBe('2031-FY');
		expect([c.parse('2028-08'), c.parse('2028-Q5'), c.parse('2029-Q1')]).toEqual([null, null, null]);
		expect(() => mixedCalendar({ fiscalStart: 4, firstYear: 2027, grains: [] })).toThrow(/at least one/);
	});
});

describe.each<[string, Calendar]>([
	['twelve months from April', monthCalendar(4)],
	['twelve months from January', monthCalendar(1)],
	['thirteen fours', retail('13x4')],
	['4-4-5', retail('4-4-5')],
	['single weeks', weekCalendar('weeks', { fiscalStart: 7, endsOn: SUNDAY, rule: 'last' })],
	['mixed years', mixedCalendar({ fiscalStart: 7, firstYear: 2027, grains: ['quarter', 'month', 'year'] })]
])('any calendar: %s', (_, c) => {
	const day = fc.integer({ min: toSerial(2015, 1, 1), max: toSerial(2045, 1, 1) });
	it('covers every day once, in order, and finds it again', () => {
		fc.assert(
			fc.property(day, (n) => {
				const p = c.periodOfDay(n);
				const [first, last] = [fromIsoDate(c.firstDay(p))!, fromIsoDate(c.lastDay(p))!];
				expect(first <= n && n <= last).toBe(true);
				expect(fromIsoDate(c.firstDay(p + 1))).toBe(last + 1);
				expect(c.parse(c.key(p))).toBe(p);
				expect(c.periodOf(toIsoDate(n))).toBe(p);
				const fy = c.fiscalYear(p);
				expect(c.yearStart(fy) <= p && p < c.yearStart(fy + 1)).toBe(true);
				expect(c.quarter(p)).toBeGreaterThanOrEqual(1);
				expect(c.quarter(p)).toBeLessThanOrEqual(4);
				const start = c.calendarYearStart(p);
				const yearOf = (q: number) => c.lastDay(q).slice(0, 4);
				expect([yearOf(start), yearOf(start - 1) < yearOf(start)]).toEqual([yearOf(p), true]);
			})
		);
	});
});
