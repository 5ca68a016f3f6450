import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ceiling, floor, int, mround, round, roundDown, roundUp } from './rounding';

describe('rounding', () => {
	it.each([
		['round(0 − 1.65 ÷ 3, 1)', round(0 - 1.65 / 3, 1), -0.6],
		['rounddown(3.3 ÷ 3 × 10, 0)', roundDown((3.3 / 3) * 10, 0), 11],
		['roundup(0.1 × 3, 1)', roundUp(0.1 * 3, 1), 0.3],
		['int(3.3 ÷ 3 × 10)', int((3.3 / 3) * 10), 11],
		['floor(0.3, 0.1)', floor(0.3, 0.1), 0.3],
		['ceiling(1.1 × 3, 1.1)', ceiling(1.1 * 3, 1.1), 3.3],
		['round(1.005, 2)', round(1.005, 2), 1.01],
		['rounddown(−1.29, 1)', roundDown(-1.29, 1), -1.2],
		['roundup(−1.21, 1)', roundUp(-1.21, 1), -1.3],
		['round(9007199254740991)', round(9007199254740991), 9007199254740991],
		['mround(7, −3)', mround(7, -3), NaN]
	])('%s', (_, actual, expected) => expect(actual).toBe(expected));

	it('takes what lies by binary noise beside a decimal for that decimal, whichever way it rounds', () => {
		const digits = fc.integer({ min: 0, max: 6 });
		fc.assert(
			fc.property(fc.integer({ min: -1e8, max: 1e8 }), digits, fc.constantFrom(-1, 0, 1), (n, d, ulps) => {
				const exact = Number(`${n}e-${d}`);
				const noisy = exact * (1 + ulps * Number.EPSILON);
				for (const way of [round, roundUp, roundDown]) expect(way(noisy, d) + 0).toBe(exact + 0);
				for (const way of [floor, ceiling, mround])
					expect(way(Math.abs(noisy), Number(`1e-${d}`))).toBe(Math.abs(exact));
				if (d === 0) expect(int(noisy)).toBe(exact);
			})
		);
	});
	it('keeps within one unit, on its own side', () => {
		fc.assert(
			fc.property(
				fc.double({ min: -1e9, max: 1e9, noNaN: true }),
				fc.integer({ min: -3, max: 5 }),
				(x, d) => {
					const unit = 10 ** -d;
					const slack = Math.abs(x) * 1e-14 + 1e-300;
					expect(Math.abs(roundDown(x, d))).toBeLessThanOrEqual(Math.abs(x) + slack);
					expect(Math.abs(roundUp(x, d))).toBeGreaterThanOrEqual(Math.abs(x) - slack);
					expect(Math.abs(round(x, d) - x)).toBeLessThanOrEqual(unit / 2 + slack);
				}
			)
		);
	});
});
