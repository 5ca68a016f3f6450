/** A calendar and the value that it is made from. */
import { describe, expect, it } from 'vitest';
import { calendarOf } from './calendar-of';
import { laterFrom, mixedCalendar } from './mixed';
import { CalendarSpec, LaterYears, WeekGrouping } from './spec';

const specs: CalendarSpec[] = [
	...[1, 4, 12].flatMap((fiscalStart) =>
		(['actual', '30/360'] as const).map((dayCount) => ({ kind: 'months' as const, fiscalStart, dayCount }))
	),
	...WeekGrouping.options.flatMap((grouping) =>
		(['last', 'nearest'] as const).map((rule) => ({
			kind: 'weeks' as const,
			grouping,
			fiscalStart: 9,
			endsOn: 6,
			rule
		}))
	)
];

describe('a calendar', () => {
	it.each(specs)('of %j is made from a value, and says it', (spec) => {
		const calendar = calendarOf(CalendarSpec.parse(JSON.parse(JSON.stringify(spec))));
		expect(calendar.spec).toEqual(spec);
		const first = calendar.yearStart(2028);
		const again = calendarOf(calendar.spec);
		for (let p = first; p < first + calendar.periodsPerYear; p++) {
			expect([again.key(p), again.firstDay(p), again.days(p)]).toEqual([
				calendar.key(p),
				calendar.firstDay(p),
				calendar.days(p)
			]);
			expect(calendar.parse(calendar.key(p))).toBe(p);
		}
	});
	it('of thirteen fours has thirteen periods, of weeks 52', () => {
		const perYear = (grouping: WeekGrouping) =>
			calendarOf({ kind: 'weeks', grouping, fiscalStart: 9, endsOn: 6, rule: 'nearest' }).periodsPerYear;
		expect(WeekGrouping.options.map(perYear)).toEqual([52, 13, 12, 12, 12]);
	});
	it('of a scenario whose later years are coarser is made again from what it says, and is no company’s', () => {
		const later = { firstYear: 2028, grains: ['month' as const, 'quarter' as const] };
		const calendar = mixedCalendar({ fiscalStart: 4, ...later });
		expect(calendar.spec).toEqual({ kind: 'mixed', fiscalStart: 4, dayCount: 'actual', ...later });
		expect(calendarOf(calendar.spec).key(calendar.parse('2029-Q2')!)).toBe('2029-Q2');
		expect(CalendarSpec.safeParse(calendar.spec).success).toBe(false);
		expect(LaterYears.safeParse(later).success).toBe(true);
		const finer = LaterYears.safeParse({ firstYear: 2028, grains: ['quarter', 'month'] });
		expect(finer.error?.issues[0].message).toMatch(/not divided more finely/);
	});
	it('begins its later years no earlier than with a year, which stands in months until then', () => {
		const later = { firstYear: 2028, grains: ['quarter' as const, 'half' as const, 'year' as const] };
		expect(laterFrom(later, 2027)).toEqual(later);
		expect(laterFrom(later, 2029)).toEqual({ firstYear: 2029, grains: ['half', 'year'] });
		expect(laterFrom(later, 2032)).toEqual({ firstYear: 2032, grains: ['year'] });
		expect(laterFrom(null, 2032)).toBeNull();
	});
	it.each([
		[{ kind: 'months', fiscalStart: 13 }, 'fiscalStart'],
		[{ kind: 'weeks', grouping: '4-4-4', fiscalStart: 1, endsOn: 6, rule: 'last' }, 'grouping'],
		[{ kind: 'weeks', grouping: '4-4-5', fiscalStart: 1, endsOn: 8, rule: 'last' }, 'endsOn'],
		[{ kind: 'moons', fiscalStart: 1 }, 'kind']
	])('is not made from %j', (value, where) => {
		const { success, error } = CalendarSpec.safeParse(value);
		expect(success).toBe(false);
		expect(error!.issues.flatMap((i) => i.path)).toContain(where);
	});
});
