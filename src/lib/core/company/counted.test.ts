import { describe, expect, it } from 'vitest';
import { counted, digits } from './counted';

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
