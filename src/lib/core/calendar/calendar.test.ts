import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar, periodRange } from './calendar';

describe('the calendar of twelve months', () => {
	const april = monthCalendar(4);
	const oct26 = april.parse('2026-10')!;

	it('names a fiscal year by the calendar year in which it ends', () => {
		expect(april.yearLabel(april.fiscalYear(oct26))).toBe('FY27');
		expect(april.fiscalYear(april.parse('2026-03')!)).toBe(2026);
		expect(april.fiscalYear(april.parse('2026-04')!)).toBe(2027);
		expect(monthCalendar(1).fiscalYear(oct26)).toBe(2026);
	});
	it('knows quarters within the fiscal year', () => {
		const quarters = periodRange(april.yearStart(2027), april.yearStart(2027) + 11).map((p) =>
			april.quarter(p)
		);
		expect(quarters).toEqual([1, 1, 1, 2, 2, 2, 3, 3, 3, 4, 4, 4]);
		expect(april.key(april.yearStart(2027))).toBe('2026-04');
	});
	it('knows days, also of leap years', () => {
		expect(april.days(april.parse('2028-02')!)).toBe(29);
		expect(april.days(april.parse('2027-02')!)).toBe(28);
		expect(april.firstDay(oct26)).toBe('2026-10-01');
		expect(april.lastDay(oct26)).toBe('2026-10-31');
		expect(april.label(oct26)).toBe('Oct 26');
		expect(april.longLabel(oct26)).toBe('October 2026');
	});
	it('finds the period of a date and refuses days that do not exist', () => {
		expect(april.periodOf('2026-10-31')).toBe(oct26);
		expect(april.periodOf('2026-10-32')).toBeNull();
		expect(april.periodOf('2026-02-29')).toBeNull();
		expect(april.periodOf('31.10.2026')).toBeNull();
	});
	it('reads back every key it writes, and nothing else', () => {
		fc.assert(
			fc.property(fc.integer({ min: 1900 * 12, max: 2200 * 12 }), (p) => april.parse(april.key(p)) === p)
		);
		for (const text of ['2026-00', '2026-13', '2026-1', '26-10', '', 'x'])
			expect(april.parse(text)).toBeNull();
	});
	it('places every period in its fiscal year, whatever its start', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 12 }),
				fc.integer({ min: 1950 * 12, max: 2100 * 12 }),
				(start, p) => {
					const c = monthCalendar(start);
					const year = c.fiscalYear(p);
					const first = c.yearStart(year);
					return first <= p && p < first + 12 && c.quarter(p) === Math.floor((p - first) / 3) + 1;
				}
			)
		);
	});
	it('refuses a start that is no month', () => {
		expect(() => monthCalendar(0)).toThrow(RangeError);
		expect(() => monthCalendar(13)).toThrow(RangeError);
	});
});
