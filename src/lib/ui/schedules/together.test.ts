/** What cells become that are changed together. */
import { describe, expect, it } from 'vitest';
import { changedBy } from './together';

describe('cells that are changed together', () => {
	it('move by months to the last day where there is no such day, and by days', () => {
		const months = (by: number, typed: string | null) => changedBy({ kind: 'months', by }, typed, 'number');
		expect(months(2, '2027-05-01')).toBe('2027-07-01');
		expect(months(-1, '2027-03-31')).toBe('2027-02-28');
		expect(changedBy({ kind: 'days', by: 30 }, '2027-12-15', 'number')).toBe('2028-01-14');
		expect(months(2, null)).toBeUndefined();
	});
	it('rise by a share or an amount, money to cents, and stay blank where they are', () => {
		expect(changedBy({ kind: 'percent', share: 0.03 }, 24_600.15, 'money')).toBe(25_338.15);
		expect(changedBy({ kind: 'percent', share: 0.1 }, 0.3, 'price')).toBe(0.33);
		expect(changedBy({ kind: 'add', amount: -2 }, 60, 'number')).toBe(58);
		expect(changedBy({ kind: 'percent', share: 0.03 }, null, 'money')).toBeUndefined();
	});
	it('become the same where that is asked, also those that are blank', () => {
		expect(changedBy({ kind: 'set', value: '2027-04-01' }, null, 'number')).toBe('2027-04-01');
		expect(changedBy({ kind: 'set', value: null }, 5, 'number')).toBeNull();
	});
});
