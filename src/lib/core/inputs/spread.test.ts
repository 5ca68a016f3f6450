import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	changeCells,
	profileWeights,
	roundTogether,
	spread,
	spreadBlock,
	type SpreadCell,
	type SpreadMethod
} from './spread';

const cells = (...values: (number | null)[]): SpreadCell[] => values.map((value) => ({ value, held: false }));
const PROPORTION: SpreadMethod = { kind: 'proportion' };
const EVENLY: SpreadMethod = { kind: 'evenly' };
const valuesOf = (r: ReturnType<typeof spread>) => (r.ok ? r.values : r.reason);
/** Sum in whole units, as people check it. */
const units = (values: readonly number[], decimals: number) =>
	values.reduce((s, v) => s + Math.round(v * 10 ** decimals), 0);

describe('a spread', () => {
	it('hands what rounding down leaves to the largest remainders, on a tie to the first', () => {
		expect(valuesOf(spread(cells(130, 154, 166), 500, PROPORTION, 0))).toEqual([145, 171, 184]);
		expect(valuesOf(spread(cells(0, 0, 0), 1000, EVENLY, 2))).toEqual([333.34, 333.33, 333.33]);
	});
	it('keeps held cells and takes them off the total first', () => {
		const held = [{ value: 200, held: true }, ...cells(1, 3)];
		expect(valuesOf(spread(held, 1000, PROPORTION, 0))).toEqual([200, 200, 600]);
		const all = [
			{ value: 200, held: true },
			{ value: 300, held: true }
		];
		expect(valuesOf(spread(all, 600, EVENLY, 0))).toBe('all-held');
		expect(valuesOf(spread(all, 500, EVENLY, 0))).toEqual([200, 300]);
	});
	it('offers evenly where there is no proportion', () => {
		const result = spread(cells(0, null, 0), 90, PROPORTION, 0);
		expect(result).toMatchObject({ ok: false, reason: 'no-proportion', evenly: true });
		expect(valuesOf(spread(cells(5, -5), 10, PROPORTION, 0))).toBe('no-proportion');
		expect(valuesOf(spread(cells(0, null, 0), 90, EVENLY, 0))).toEqual([30, 30, 30]);
		expect(valuesOf(spread(cells(1e9, -1e9 + 1e-6), 1000, PROPORTION, 2))).toBe('no-proportion');
		expect(valuesOf(spread([], 1, EVENLY, 0))).toBe('no-cells');
		expect(valuesOf(spread(cells(1), NaN, EVENLY, 0))).toBe('not-a-number');
	});
	it('takes the shape of given weights, such as a seasonality profile', () => {
		const weights = profileWeights([1, 2, 3, 4], 3, 6);
		expect(weights).toEqual([4, 1, 2, 3, 4, 1]);
		expect(valuesOf(spread(cells(9, 9, 9, 9, 9, 9), 150, { kind: 'weights', weights }, 0))).toEqual([
			40, 10, 20, 30, 40, 10
		]);
	});
	it('mixes signs', () => {
		const result = valuesOf(spread(cells(100, -20, 40), 60, PROPORTION, 2)) as number[];
		expect(result).toEqual([50, -10, 20]);
		expect(valuesOf(spread(cells(1, 1, 1), -100, PROPORTION, 0))).toEqual([-33, -33, -34]);
	});
	it('goes over months and members at once, exact in its grand total', () => {
		const result = spreadBlock([cells(1, 2, 3), cells(4, 5, 6)], 1000.01, PROPORTION, 2);
		if (!result.ok) throw new Error(result.message);
		expect(units(result.values.flat(), 2)).toBe(100_001);
		expect(result.values[0]).toHaveLength(3);
	});
	it('rounds parts so that what is shown adds up', () => {
		expect(roundTogether([33.333, 33.333, 33.334], 0)).toEqual([33, 33, 34]);
		expect(roundTogether([0.4, 0.4, 0.4], 0)).toEqual([1, 0, 0]);
		expect(roundTogether([1.005, -1.005], 2)).toEqual([1.01, -1.01]);
		expect(roundTogether([-0.6, -0.6, -0.6], 0)).toEqual([0, -1, -1]);
	});
	it('changes by an amount or a share, up or down', () => {
		expect(valuesOf(changeCells(cells(100, 300), { kind: 'percent', share: 0.035 }, 2))).toEqual([
			103.5, 310.5
		]);
		expect(valuesOf(changeCells(cells(100, 300), { kind: 'by', amount: -100 }, 2))).toEqual([75, 225]);
		expect(valuesOf(changeCells(cells(100, 300), { kind: 'to', total: 1 }, 2))).toEqual([0.25, 0.75]);
	});

	const value = fc.oneof(
		fc.integer({ min: -100_000, max: 100_000 }).map((v) => v / 100),
		fc.double({ min: -1e9, max: 1e9, noNaN: true }),
		fc.constant(0)
	);
	const cell = fc.record({ value: fc.option(value), held: fc.boolean() });
	it('ties for any totals, signs, holds and weights', () => {
		let done = 0;
		fc.assert(
			fc.property(
				fc.array(cell, { minLength: 1, maxLength: 40 }),
				fc.integer({ min: -1e9, max: 1e9 }),
				fc.constantFrom(0, 2, 4),
				fc.constantFrom<SpreadMethod['kind']>('proportion', 'evenly', 'weights'),
				fc.array(fc.double({ min: -5, max: 1e6, noNaN: true }), { minLength: 40, maxLength: 40 }),
				(given, whole, decimals, kind, weights) => {
					// Held cells that were typed lie on the entry precision.
					const list = given.map((c) => ({
						...c,
						value: c.held && c.value !== null ? Number(c.value.toFixed(decimals)) : c.value
					}));
					const total = whole / 10 ** decimals;
					const result = spread(list, total, kind === 'weights' ? { kind, weights } : { kind }, decimals);
					if (!result.ok) return;
					done++;
					// By their written form, which loses nothing to multiplication.
					const exact = result.values.reduce((s, v) => s + BigInt(v.toFixed(decimals).replace('.', '')), 0n);
					expect(exact).toBe(BigInt(whole));
					list.forEach((c, i) => c.held && expect(result.values[i]).toBe(c.value ?? 0));
				}
			),
			{ numRuns: 500 }
		);
		expect(done).toBeGreaterThan(300);
	});
	it('gives each cell its exact share, but for less than one unit', () => {
		fc.assert(
			fc.property(
				fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 1, maxLength: 20 }),
				fc.integer({ min: -1e6, max: 1e6 }),
				(weights, total) => {
					const sum = weights.reduce((a, b) => a + b, 0);
					if (!sum) return;
					const result = spread(cells(...weights), total, PROPORTION, 0);
					if (!result.ok) throw new Error(result.message);
					result.values.forEach((v, i) => expect(Math.abs(v - (total * weights[i]) / sum)).toBeLessThan(1));
				}
			)
		);
	});
});
