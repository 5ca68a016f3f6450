import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../calendar/calendar';
import { calendarOf } from '../calendar/calendar-of';
import { extendSeries, type Extend } from './extend';
import { type Series, trimBlanks } from './series';

const at = (key: string) => monthCalendar(4).parse(key)!;
const HAD = at('2027-03');
const to = (last: number) => ({ had: HAD, last, calendar: monthCalendar(4) });
const typed = (first: string, ...values: (number | null)[]): Series => ({
	block: 'm',
	line: 'units',
	row: 'p',
	first: at(first),
	values: Float64Array.from(values, (v) => v ?? NaN)
});
const year = typed('2026-04', 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12);
const valueAt = (s: Series, period: number) => {
	const v = s.values[period - s.first];
	return v === undefined || Number.isNaN(v) ? null : v;
};
const months = (s: Series, first: string, count: number) =>
	Array.from({ length: count }, (_, i) => valueAt(s, at(first) + i));

describe('a series carried into a longer window', () => {
	it('goes on as a year ago, as the last month, or not', () => {
		const on = (method: Extend) => months(extendSeries(year, to(at('2027-05')), method), '2027-04', 2);
		expect(on('year-ago')).toEqual([1, 2]);
		expect(on('last')).toEqual([12, 12]);
		expect(on('blank')).toEqual([null, null]);
		expect(extendSeries(year, to(HAD), 'last')).toBe(year);
	});
	it('leaves what was planned as it is: 5,000 in August alone stays in August', () => {
		const august = typed('2026-08', 5000);
		const inAll = (method: Extend) =>
			months(extendSeries(august, to(at('2027-12')), method), '2026-04', 21).flatMap((v, i) =>
				v === null ? [] : [[monthCalendar(4).key(at('2026-04') + i), v]]
			);
		expect(inAll('last')).toEqual([['2026-08', 5000]]);
		expect(inAll('blank')).toEqual([['2026-08', 5000]]);
		expect(inAll('year-ago')).toEqual([
			['2026-08', 5000],
			['2027-08', 5000]
		]);
	});
	it('takes a year ago from months that are new themselves, where the window grows by more than a year', () => {
		const longer = extendSeries(year, to(at('2029-03')), 'year-ago');
		expect(months(longer, '2028-04', 12)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12]);
	});
	it('takes the same number of a week, and for a 53rd the 52nd', () => {
		const weeks = calendarOf({
			kind: 'weeks',
			grouping: 'weeks',
			fiscalStart: 9,
			endsOn: 6,
			rule: 'nearest'
		});
		const week = (key: string) => weeks.parse(key)!;
		const first = week('2027-W01');
		const values = Float64Array.from({ length: 52 }, (_, i) => i + 1);
		const series = { block: 'm', line: 'units', row: 'p', first, values };
		const window = { had: week('2027-W52'), last: week('2029-W02'), calendar: weeks };
		const longer = extendSeries(series, window, 'year-ago');
		const at = (key: string) => valueAt(longer, week(key));
		expect(['2028-W01', '2028-W52', '2028-W53', '2029-W01'].map(at)).toEqual([1, 52, 52, 1]);
	});
	it('touches no month of the former window, whatever stands there, and fills each new one by its rule', () => {
		const cells = fc.array(fc.option(fc.integer({ min: -9, max: 9 })), { minLength: 1, maxLength: 12 });
		fc.assert(
			fc.property(
				cells,
				fc.nat(11),
				fc.integer({ min: 1, max: 40 }),
				fc.constantFrom<Extend>('year-ago', 'last', 'blank'),
				(list, offset, more, method) => {
					const first = at('2026-04') + offset;
					const values = Float64Array.from(list.slice(0, 12 - offset), (v) => v ?? NaN);
					const before = { ...typed('2026-04'), ...trimBlanks(first, values) };
					const after = extendSeries(before, to(HAD + more), method);
					for (let p = at('2026-04'); p <= HAD; p++) expect(valueAt(after, p)).toBe(valueAt(before, p));
					for (let p = HAD + 1; p <= HAD + more; p++) {
						const source = method === 'year-ago' ? valueAt(after, p - 12) : valueAt(before, HAD);
						expect(valueAt(after, p)).toBe(method === 'blank' ? null : source);
					}
				}
			)
		);
	});
});
