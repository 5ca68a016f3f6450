import { expect, it } from 'vitest';
import { calendarOf } from './calendar-of';
import { yearSaid } from './says';

it('a year is said by its days and its periods', () => {
	const months = calendarOf({ kind: 'months', fiscalStart: 4, dayCount: 'actual' });
	expect(yearSaid(months, 2027)).toBe('FY27 is 1 April 2026 to 31 March 2027, in 12 months');
	const weeks = { kind: 'weeks', fiscalStart: 9, endsOn: 6, rule: 'nearest' } as const;
	expect(yearSaid(calendarOf({ ...weeks, grouping: '4-4-5' }), 2027)).toBe(
		'FY27 is 30 August 2026 to 28 August 2027, in 12 periods'
	);
	expect(yearSaid(calendarOf({ ...weeks, grouping: 'weeks' }), 2028)).toBe(
		'FY28 is 29 August 2027 to 2 September 2028, in 53 weeks'
	);
});
