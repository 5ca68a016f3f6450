/** The year before, in calendars of every kind. */
import { describe, expect, it } from 'vitest';
import { calendarOf } from './calendar-of';
import { spanBefore, withoutLeapWeek, yearBefore } from './last-year';
import type { CalendarSpec, WeekGrouping } from './spec';

/** Years end on the Saturday nearest to 31 August; FY28 has 53 weeks. */
const weeks = (grouping: WeekGrouping): CalendarSpec => ({
	kind: 'weeks',
	grouping,
	fiscalStart: 9,
	endsOn: 6,
	rule: 'nearest'
});
const before = (spec: CalendarSpec, key: string) => {
	const calendar = calendarOf(spec);
	return calendar.key(yearBefore(calendar, calendar.parse(key)!));
};

describe('the year before', () => {
	it.each([1, 4, 12])('is twelve months earlier, in years from month %i on', (fiscalStart) => {
		const calendar = calendarOf({ kind: 'months', fiscalStart, dayCount: 'actual' });
		for (let p = calendar.parse('2026-01')!; p <= calendar.parse('2028-12')!; p++)
			expect(yearBefore(calendar, p)).toBe(p - 12);
		expect(spanBefore(calendar, { from: 24400, to: 24411 })).toEqual({ from: 24388, to: 24399 });
	});
	it('has the same number of a week; a 53rd looks back at the 52nd', () => {
		expect(before(weeks('weeks'), '2028-W10')).toBe('2027-W10');
		expect(before(weeks('weeks'), '2028-W52')).toBe('2027-W52');
		expect(before(weeks('weeks'), '2028-W53')).toBe('2027-W52');
	});
	it('is seen from the year after a leap week at weeks 1 to 52', () => {
		expect(before(weeks('weeks'), '2029-W01')).toBe('2028-W01');
		expect(before(weeks('weeks'), '2029-W52')).toBe('2028-W52');
	});
	it('has the same period of thirteen, or of a quarter’s weeks', () => {
		expect(before(weeks('13x4'), '2028-P13')).toBe('2027-P13');
		expect(before(weeks('4-4-5'), '2029-P12')).toBe('2028-P12');
	});
	it('compares alike without a leap week, where that is a week by itself', () => {
		const spans = (grouping: WeekGrouping, from: string, to: string) => {
			const calendar = calendarOf(weeks(grouping));
			const span = { from: calendar.parse(from)!, to: calendar.parse(to)! };
			return withoutLeapWeek(calendar, span).to - span.to;
		};
		expect(spans('weeks', '2028-W01', '2028-W53')).toBe(-1);
		expect(spans('weeks', '2028-W01', '2028-W52')).toBe(0);
		expect(spans('weeks', '2028-W53', '2028-W53')).toBe(0);
		expect(spans('4-4-5', '2028-P01', '2028-P12')).toBe(0);
	});
});
