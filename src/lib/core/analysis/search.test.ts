/** Goal seek, sensitivity, Monte Carlo. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { presentValue, payback, returnOnInvestment } from './project';
import { goalSeek } from './goal-seek';
import { monteCarlo, percentileOf } from './monte-carlo';
import { draw, randomFrom, type Distribution } from './random';
import { sensitivity } from './sensitivity';

describe('goal seek', () => {
	it('finds the input for a result', () => {
		const r = goalSeek((price) => price * 120 - 900, 3000, { start: 10, tolerance: 1e-9 });
		expect(r).toMatchObject({ found: true });
		expect(r.input).toBeCloseTo(32.5, 9);
		expect(goalSeek((x) => x ** 3, -27, { start: 1 }).input).toBeCloseTo(-3, 5);
	});
	it.each([
		['no effect', () => 5, 6, {}, 'no-effect'],
		['out of reach', (x: number) => x, 100, { low: 0, high: 50 }, 'out-of-reach'],
		['a square below 0', (x: number) => x * x, -1, {}, 'out-of-reach'],
		['no number', () => NaN, 1, {}, 'no-number'],
		['a jump over the goal', (x: number) => Math.floor(x / 10) * 10, 15, { start: 1 }, 'jump']
	])('says when there is none: %s', (_, f, goal, options, reason) => {
		const r = goalSeek(f, goal, { start: 3, ...options });
		expect(r).toMatchObject({ found: false, reason });
		expect(r.evaluations).toBeLessThanOrEqual(201);
	});
	it('says how near it came', () => {
		expect(goalSeek((x) => x, 100, { start: 3, low: 0, high: 50 })).toMatchObject({ input: 50, result: 50 });
	});
	it('finds any goal of a rising curve', () => {
		fc.assert(
			fc.property(
				fc.double({ min: -1e4, max: 1e4, noNaN: true }),
				fc.double({ min: 0.01, max: 100, noNaN: true }),
				fc.double({ min: -50, max: 50, noNaN: true }),
				(goal, slope, start) => {
					const f = (x: number) => slope * x + Math.sin(x);
					const r = goalSeek(f, goal, { start, tolerance: 1e-6 });
					expect(r.found).toBe(true);
					expect(Math.abs(f(r.input) - goal)).toBeLessThanOrEqual(1e-6);
				}
			)
		);
	});
});

describe('sensitivity', () => {
	it('moves each driver alone and puts the widest first', () => {
		const now = [10, 5];
		const f = (move: { driver: number; value: number } | null) => {
			const at = now.map((v, i) => (move?.driver === i ? move.value : v));
			return at[0] * 2 + at[1] * 10;
		};
		const result = sensitivity(
			[
				{ low: 9, high: 11 },
				{ low: 4, high: 6 }
			],
			f
		);
		expect(result.base).toBe(70);
		expect(result.drivers).toEqual([
			{ driver: 1, low: 60, high: 80, range: 20 },
			{ driver: 0, low: 68, high: 72, range: 4 }
		]);
	});
});

describe('chance', () => {
	const moments = (d: Distribution) => {
		const random = randomFrom(42);
		const list = Array.from({ length: 40_000 }, () => draw(d, random));
		const mean = list.reduce((a, b) => a + b, 0) / list.length;
		return { mean, deviation: Math.sqrt(list.reduce((s, v) => s + (v - mean) ** 2, 0) / list.length), list };
	};
	it.each<[Distribution, number, number]>([
		[{ kind: 'normal', mean: 5, deviation: 2 }, 5, 2],
		[{ kind: 'uniform', low: 0, high: 12 }, 6, Math.sqrt(12)],
		[{ kind: 'triangular', low: 0, likely: 3, high: 6 }, 3, Math.sqrt(1.5)],
		[{ kind: 'triangular', low: 1, likely: 1, high: 4 }, 2, Math.sqrt(0.5)],
		[{ kind: 'lognormal', mean: 10, deviation: 3 }, 10, 3]
	])('draws from %o', (d, mean, deviation) => {
		const m = moments(d);
		expect(Math.abs(m.mean - mean)).toBeLessThan(0.06);
		expect(Math.abs(m.deviation / deviation - 1)).toBeLessThan(0.03);
		if ('low' in d) expect(m.list.every((v) => v >= d.low && v <= d.high)).toBe(true);
	});
	it('gives percentiles per period, the same for the same seed', () => {
		const run = (seed: number) =>
			monteCarlo([{ kind: 'uniform', low: 0, high: 100 }], 2, ([x]) => [x, 2 * x], {
				trials: 5000,
				seed,
				percentiles: [10, 50, 90]
			});
		const r = run(3);
		expect(run(3)).toEqual(r);
		expect(run(4)).not.toEqual(r);
		r.percentiles.forEach(({ percentile, values }) => {
			expect(Math.abs(values[0] - percentile)).toBeLessThan(2);
			expect(values[1]).toBeCloseTo(2 * values[0], 9);
		});
	});
	it('counts trials without a number and refuses senseless distributions', () => {
		const r = monteCarlo([{ kind: 'uniform', low: -1, high: 1 }], 1, ([x]) => [x < 0 ? NaN : x], {
			trials: 1000,
			seed: 1,
			percentiles: [0, 100]
		});
		expect(r.failed).toBeGreaterThan(400);
		expect(r.percentiles[0].values[0]).toBeGreaterThanOrEqual(0);
		const bad: Distribution = { kind: 'triangular', low: 3, likely: 1, high: 4 };
		expect(() => monteCarlo([bad], 1, () => [1], { trials: 1, seed: 1, percentiles: [] })).toThrow(
			'Driver 1'
		);
		expect(percentileOf([1, 2, 4], 75)).toBe(3);
	});
});

describe('what a project is worth', () => {
	const cash = [-50_000, 15_000, 15_000, 15_000, 15_000, 15_000];
	it('is its present value, return and payback', () => {
		expect(presentValue(cash, 0.1)).toBeCloseTo(6861.8, 2);
		expect(returnOnInvestment(75_000, 50_000)).toBe(0.5);
		expect(payback(cash)).toBeCloseTo(10 / 3, 9);
		expect(payback([-5, 1])).toBeNull();
		expect(returnOnInvestment(1, 0)).toBeNull();
		const months = [-1000, ...Array.from({ length: 24 }, () => 50)];
		expect(presentValue(months, 0.12, 12)).toBeCloseTo(
			months.reduce((s, c, t) => s + c / 1.12 ** (t / 12), 0),
			9
		);
	});
});
