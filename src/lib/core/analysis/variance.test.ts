import { describe, expect, it } from 'vitest';
import { isUnusual, usualSize } from './unusual';
import { matters, variance } from './variance';

describe('variance', () => {
	it.each([
		[110, 100, 'revenue', 10, 0.1, 'favourable'],
		[90, 100, 'revenue', -10, -0.1, 'unfavourable'],
		[110, 100, 'expense', 10, 0.1, 'unfavourable'],
		[90, 100, 'expense', -10, -0.1, 'favourable'],
		[110, 100, 'liability', 10, 0.1, 'unfavourable'],
		[110, 100, 'asset', 10, 0.1, 'favourable'],
		[110, 100, 'equity', 10, 0.1, 'neutral'],
		[110, 100, 'statistical', 10, 0.1, 'neutral'],
		[-50, -100, 'revenue', 50, 0.5, 'favourable'],
		[5, 0, 'revenue', 5, null, 'favourable'],
		[5, null, 'expense', 5, null, 'unfavourable'],
		[null, 5, 'expense', -5, -1, 'favourable'],
		[7, 7, 'revenue', 0, 0, 'neutral']
	] as const)('%s against %s of %s', (a, b, type, difference, percent, verdict) => {
		expect(variance(a, b, type)).toEqual({ a, b, difference, percent, verdict });
	});
	it('of nothing is nothing, of an error is the error', () => {
		expect(variance(null, null, 'revenue').difference).toBeNull();
		expect(variance(1, '#DIV/0!', 'revenue')).toMatchObject({ difference: '#DIV/0!', verdict: 'neutral' });
	});
	it('matters from amount and share both; an error always does', () => {
		const threshold = { amount: 1000, percent: 0.05 };
		const of = (a: number | null, b: number | null | string) => matters(variance(a, b, 'expense'), threshold);
		expect(of(2100, 1000)).toBe(true);
		expect(of(1900, 1000)).toBe(false);
		expect(of(101_000, 100_000)).toBe(false);
		expect(of(1000, null)).toBe(true);
		expect(of(1, '#NUM!')).toBe(true);
		expect(matters(variance(5, 5, 'expense'), { amount: 0, percent: 0 })).toBe(false);
	});
});

describe('unusual entries', () => {
	const usual = usualSize([22, 35, 41, 28, 30, 39, 25, 33, 29, 36]);
	it('are far above the usual size, not merely large', () => {
		expect(isUnusual(24_900, usual)).toBe(true);
		expect(isUnusual(-24_900, usual)).toBe(true);
		expect(isUnusual(60, usual)).toBe(false);
		expect(isUnusual(0.5, usual)).toBe(false);
	});
	it('one wrong entry in the history does not hide the next', () => {
		expect(isUnusual(24_900, usualSize([22, 35, 41, 28, 24_900, 39, 25, 33, 29, 36]))).toBe(true);
	});
	it('are not claimed where there is too little history', () => {
		expect(usualSize([1, 2, 3])).toBeNull();
		expect(isUnusual(1e9, null)).toBe(false);
	});
	it('in a history of equal amounts allow for some growth', () => {
		const flat = usualSize(Array(12).fill(100));
		expect(isUnusual(150, flat)).toBe(false);
		expect(isUnusual(1000, flat)).toBe(true);
	});
});
