/** Numbers of texts: the same everywhere, different for different texts. */
import { describe, expect, it } from 'vitest';
import { textCode } from './texts';

/** What every thread and every browser has for it. */
const HOURLY = 3005186125627172;

describe('the number of a text', () => {
	it('follows from the text alone, whatever was met before it', () => {
		expect(textCode('hourly')).toBe(HOURLY);
		textCode('met in between');
		expect(textCode('Hourly')).toBe(HOURLY);
	});
	it('tells texts that are nearly the same apart, and is a whole number that a cell holds exactly', () => {
		const words = Array.from({ length: 50_000 }, (_, i) => `p-${i}`).concat(['', ' ', 'a', 'aa', 'ab', 'ba']);
		const codes = words.map(textCode);
		expect(new Set(codes).size).toBe(words.length);
		expect(codes.every((c) => Number.isSafeInteger(c) && c > 0)).toBe(true);
	});
});
