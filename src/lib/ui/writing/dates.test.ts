import * as fc from 'fast-check';
import { expect, it } from 'vitest';
import { readDay } from './dates';
import { day } from './format';

it.each([
	['2027-02-15', '2027-02-15'],
	['15.2.2027', '2027-02-15'],
	['15.02.27', '2027-02-15'],
	['1/3/2027', '2027-03-01'],
	[' 15  Feb 2027 ', '2027-02-15'],
	['15 february 2027', '2027-02-15'],
	['5-Sep-27', '2027-09-05'],
	['Feb 2027', '2027-02-01'],
	['2027-02', '2027-02-01'],
	['29.2.2028', '2028-02-29'],
	['31.02.2027', null],
	['2027-02-29', null],
	['0.1.2027', null],
	['15.13.2027', null],
	['soon', null],
	['15', null],
	['15.2.1027', null],
	['', null]
])('%s is the day %s', (text, expected) => {
	expect(readDay(text)).toBe(expected);
});

it('reads every day as it is shown', () => {
	const days = fc
		.date({ min: new Date('1900-01-01'), max: new Date('2199-12-31'), noInvalidDate: true })
		.map((d) => d.toISOString().slice(0, 10));
	fc.assert(
		fc.property(days, (iso) => {
			expect(readDay(day(iso))).toBe(iso);
			expect(readDay(iso)).toBe(iso);
		})
	);
});
