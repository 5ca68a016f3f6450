import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { habitOf, isTooLarge, mixesHabits, readAmount } from './amounts';

describe('an amount', () => {
	it.each([
		['1,234.50', '.', 1234.5],
		['1.234,50', ',', 1234.5],
		['1 234,50', ',', 1234.5],
		['1\u202f234\u202f567,5', ',', 1234567.5],
		["1'234.50", '.', 1234.5],
		['1,234', '.', 1234],
		['1,234', ',', 1.234],
		['(99.10)', '.', -99.1],
		['99.10-', '.', -99.1],
		['-0.5', '.', -0.5],
		['+7', '.', 7],
		['.5', '.', 0.5],
		['12.', '.', 12],
		['0', ',', 0]
	] as const)('%s with the decimal sign %s is %d', (text, decimal, value) =>
		expect(readAmount(text, decimal)).toBe(value)
	);
	it.each([
		['1.234,56', '.'],
		['1,234.56', ','],
		['1,2,3,4', '.'],
		['1,23', '.'],
		['12,34,567', '.'],
		['1234,567', '.'],
		['0,123', '.'],
		["1,234'567", '.'],
		['1 234.567,00', ','],
		['(5', '.'],
		['5)', '.'],
		['(-5)', '.'],
		['--5', '.'],
		['-5-', '.'],
		['1.2.3', '.'],
		['12a', '.'],
		['1e5', '.'],
		['Infinity', '.'],
		['', '.'],
		['.', '.'],
		['1 2', '.']
	] as const)('%s is none with the decimal sign %s', (text, decimal) =>
		expect(readAmount(text, decimal)).toBeNull()
	);
	it('is read as it was written, in every habit', () => {
		const habits = [
			['.', ','],
			['.', "'"],
			['.', ''],
			[',', '.'],
			[',', '\u00a0'],
			[',', '']
		] as const;
		fc.assert(
			fc.property(
				fc.integer({ min: -(10 ** 12), max: 10 ** 12 }),
				fc.nat(4),
				fc.constantFrom(...habits),
				(units, places, [decimal, grouping]) => {
					const digits = String(Math.abs(units)).padStart(places + 1, '0');
					const whole = digits.slice(0, digits.length - places);
					const grouped = whole.replace(/\B(?=(\d{3})+$)/g, grouping);
					const text = `${units < 0 ? '-' : ''}${grouped}${places ? decimal + digits.slice(-places) : ''}`;
					expect(readAmount(text, decimal)).toBe(Number(`${units}e-${places}`) + 0);
				}
			)
		);
	});
	it('is kept up to 10^15', () => {
		expect([1e15, -1e15, 1e15 + 1, NaN, -Infinity].map(isTooLarge)).toEqual([false, false, true, true, true]);
	});
});

describe('a column of amounts', () => {
	it('settles its decimal sign, or asks', () => {
		expect(habitOf(['12', '1,234.50'])).toEqual({ decimal: '.', doubtful: null });
		expect(habitOf(['1.234', '2,5'])).toEqual({ decimal: ',', doubtful: null });
		expect(habitOf(['1,234', '56'])).toEqual({ decimal: null, doubtful: '1,234' });
		expect(habitOf(['12', '-7'])).toEqual({ decimal: null, doubtful: null });
		expect(habitOf(['1.5', '1,5'])).toEqual({ decimal: '.', doubtful: null });
	});
	it('mixes habits where 1,234 and 1.234 stand beside each other and nothing settles what is meant', () => {
		expect(mixesHabits(['1,234', '1.234'], '.')).toBe(true);
		expect(mixesHabits(['1,234', '1.234'], ',')).toBe(true);
		expect(mixesHabits(['1,234', '1.234', '5.25'], '.')).toBe(false);
		expect(mixesHabits(['1,234', '99'], '.')).toBe(false);
		expect(mixesHabits(['0.125', '1,234'], '.')).toBe(false);
	});
});
