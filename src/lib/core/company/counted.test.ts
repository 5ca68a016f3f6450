import { describe, expect, it } from 'vitest';
import { aOf, counted, digits } from './counted';

describe('counting in words', () => {
	it('has a singular for one alone', () => {
		expect([0, 1, 2].map((n) => counted(n, 'row'))).toEqual(['0 rows', '1 row', '2 rows']);
		expect([1, 2].map((n) => counted(n, 'entry is', 'entries are'))).toEqual(['1 entry is', '2 entries are']);
	});
	it('parts thousands by what is not the reader’s decimal sign', () => {
		expect([digits(1_234_567), digits(1_234_567, ',')]).toEqual(['1,234,567', '1.234.567']);
		expect(counted(1234, 'cell', 'cells', ',')).toBe('1.234 cells');
	});
});

describe('a word with its article', () => {
	it('is written as it is said', () => {
		const said = ['lease', 'asset', 'one-off', 'unit', 'Open post', 'item'].map(aOf);
		expect(said).toEqual(['a lease', 'an asset', 'a one-off', 'a unit', 'an Open post', 'an item']);
	});
});
