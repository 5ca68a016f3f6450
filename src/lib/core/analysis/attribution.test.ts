/** Price, volume and mix, bridges, attribution, accuracy: why a figure is what it is. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { accuracy } from './accuracy';
import { attribute } from './attribution';
import { bridge } from './bridge';
import { priceVolumeMix, type SoldItem } from './price-volume-mix';

const item = (qb: number, pb: number, qa: number, pa: number): SoldItem => ({
	quantityB: qb,
	revenueB: qb * pb,
	quantityA: qa,
	revenueA: qa * pa
});
const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0);

describe('price, volume and mix', () => {
	it('split the worked example', () => {
		const split = priceVolumeMix([item(100, 10, 90, 11), item(50, 20, 80, 19.5)]);
		expect(split.volume).toBeCloseTo(266.67, 2);
		expect(split.mix).toBeCloseTo(233.33, 2);
		expect(split.price).toBeCloseTo(50, 9);
		expect(split.total).toBeCloseTo(550, 9);
	});
	it('keep new and dropped items apart', () => {
		const split = priceVolumeMix([item(100, 10, 110, 10), item(0, 0, 5, 30), item(20, 4, 0, 0)]);
		expect(split).toMatchObject({ new: 150, dropped: -80, price: 0 });
		expect(split.volume).toBeCloseTo(100, 9);
		expect(split.mix).toBeCloseTo(0, 9);
	});
	it('sum exactly to the difference for any items', () => {
		const n = fc.integer({ min: 0, max: 500 });
		const p = fc.double({ min: 0.01, max: 999, noNaN: true });
		fc.assert(
			fc.property(fc.array(fc.tuple(n, p, n, p), { maxLength: 12 }), (list) => {
				const items = list.map(([qb, pb, qa, pa]) => item(qb, pb, qa, pa));
				const s = priceVolumeMix(items);
				expect(s.volume + s.mix + s.price + s.new + s.dropped).toBe(s.total);
			})
		);
	});
});

describe('a bridge', () => {
	it('leads from one total to the other, and names what the steps leave', () => {
		const steps = bridge(
			100,
			[
				{ name: 'Price', amount: 20 },
				{ name: 'Volume', amount: -5 }
			],
			118,
			'Other'
		);
		expect(steps).toEqual([
			{ name: 'Price', amount: 20, from: 100, to: 120 },
			{ name: 'Volume', amount: -5, from: 120, to: 115 },
			{ name: 'Other', amount: 3, from: 115, to: 118 }
		]);
		expect(bridge(1, [{ name: 'x', amount: 1 }], 2, 'Other')).toHaveLength(1);
	});
});

describe('attribution', () => {
	it('is the average over all orders', () => {
		// Units from 10 to 12, price from 5 to 6: either may come first.
		const result = attribute(2, ([units, price]) => (units ? 12 : 10) * (price ? 6 : 5));
		expect(result).toMatchObject({ effects: [11, 11], difference: 22, exact: true });
		expect(attribute(0, () => 5)).toMatchObject({ effects: [], difference: 0 });
	});
	it('asks for each set of groups once', () => {
		expect(attribute(6, (s) => s.filter(Boolean).length)).toMatchObject({ evaluations: 64, exact: true });
	});
	it('gives nothing to a group without effect, and the same to groups that do the same', () => {
		const result = attribute(4, ([a, b, c]) => (Number(a) + Number(b)) * (c ? 3 : 1));
		expect(result.effects[3]).toBe(0);
		expect(result.effects[0]).toBeCloseTo(result.effects[1], 12);
	});
	it('sums exactly to the difference, also where orders are sampled', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 9 }),
				fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 9, maxLength: 9 }),
				(n, weights) => {
					const f = (s: readonly boolean[]) =>
						s.reduce((v, on, i) => (on ? v * (1 + weights[i] / 1e6) + weights[i] : v), 1000);
					const result = attribute(n, f, { seed: 7 });
					if (n <= 6) expect(result.exact).toBe(true);
					expect(sum(result.effects)).toBe(result.difference);
					expect(attribute(n, f, { seed: 7 }).effects).toEqual(result.effects);
				}
			),
			{ numRuns: 60 }
		);
	});
	it('splits the smallest difference there is', () => {
		const tiny = Number.MIN_VALUE;
		const result = attribute(2, ([a, b]) => (a && b ? tiny : 0));
		expect(sum(result.effects)).toBe(tiny);
		expect(result.difference).toBe(tiny);
	});
	/** The effects from the definition: over every order, what each switch changes. */
	function overOrders(groups: number, f: (s: readonly boolean[]) => number): number[] {
		const orders = (list: number[]): number[][] =>
			list.length < 2
				? [list]
				: list.flatMap((x) => orders(list.filter((y) => y !== x)).map((o) => [x, ...o]));
		const all = orders(Array.from({ length: groups }, (_, g) => g));
		const effects = Array<number>(groups).fill(0);
		for (const order of all) {
			const on = Array<boolean>(groups).fill(false);
			for (const g of order) {
				const before = f(on);
				on[g] = true;
				effects[g] += (f(on) - before) / all.length;
			}
		}
		return effects;
	}
	it('is what the definition gives, for groups that work on each other', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 2, max: 6 }),
				fc.array(fc.double({ min: -3, max: 3, noNaN: true }), { minLength: 64, maxLength: 64 }),
				(groups, values) => {
					const f = (s: readonly boolean[]) => values[s.reduce((n, on, i) => n + (on ? 1 << i : 0), 0)];
					const expected = overOrders(groups, f);
					attribute(groups, f).effects.forEach((e, g) => expect(e).toBeCloseTo(expected[g], 9));
				}
			),
			{ numRuns: 40 }
		);
	});
	it('is exact for many groups when few of them bear on one another', () => {
		// Nine costs add up; price, volume and share of a discount multiply.
		const f = (s: readonly boolean[]) =>
			s.slice(3).reduce((v, on, i) => v - (on ? 10 + i : 3), 0) +
			(s[0] ? 12 : 10) * (s[1] ? 6 : 5) * (s[2] ? 0.9 : 1);
		const result = attribute(12, f);
		expect(result.exact).toBe(true);
		expect(result.evaluations).toBeLessThan(160);
		const alone = overOrders(3, (s) => f([...s, ...Array<boolean>(9).fill(true)]));
		alone.forEach((e, g) => expect(result.effects[g]).toBeCloseTo(e, 9));
		result.effects.slice(3).forEach((e, i) => expect(e).toBeCloseTo(-(10 + i - 3), 9));
		expect(sum(result.effects)).toBe(result.difference);
	});
	it('is exact where one group changes what all the others do', () => {
		// The first is another month from which on things are planned: every cost is halved by it.
		const f = (s: readonly boolean[]) =>
			s.slice(1).reduce((v, on, i) => v + (on ? 10 + i : 3) * (s[0] ? 0.5 : 1), s[0] ? 14 : 0);
		const result = attribute(10, f, { pivot: 0 });
		expect(result.exact).toBe(true);
		result.effects.slice(1).forEach((e, i) => expect(e).toBeCloseTo((7 + i) * 0.75, 9));
		expect(sum(result.effects)).toBe(result.difference);
		// What it does by itself, and to the costs as they are on the average.
		const costs = Array.from({ length: 9 }, (_, i) => (10 + i + 3) / 2);
		expect(result.effects[0]).toBeCloseTo(14 - 0.5 * sum(costs), 9);
		// The same wherever it stands among the groups.
		const turned = attribute(10, (s) => f([s[9], ...s.slice(0, 9)]), { pivot: 9 });
		expect(turned.effects[9]).toBeCloseTo(result.effects[0], 9);
		turned.effects.slice(0, 9).forEach((e, i) => expect(e).toBeCloseTo(result.effects[i + 1], 9));
		// Small enough to be asked in every order, it is the same.
		const few = (s: readonly boolean[]) => f([...s, ...Array<boolean>(5).fill(false)]);
		overOrders(5, few).forEach((e, g) => expect(attribute(5, few).effects[g]).toBeCloseTo(e, 9));
	});
	/** Effects of factors on 100: for each, its change summed over the means of products of so many others. */
	function byPowers(factors: readonly number[]): number[] {
		return factors.map((own, g) => {
			const others = factors.filter((_, i) => i !== g);
			// Elementary symmetric sums: products of all sets of k others.
			const sums = [1, ...others.map(() => 0)];
			for (const x of others) for (let k = others.length; k > 0; k--) sums[k] += sums[k - 1] * x;
			const choose = (n: number, k: number): number => (k === 0 ? 1 : (choose(n, k - 1) * (n - k + 1)) / k);
			const mean = sums.reduce((s, v, k) => s + v / choose(others.length, k), 0) / factors.length;
			return 100 * (own - 1) * mean;
		});
	}
	it('comes near the exact answer when sampled', () => {
		const f = (s: readonly boolean[]) => s.reduce((v, on, i) => (on ? v * (1.1 + i / 20) : v), 100);
		// Every group multiplies: what each does, over all sizes of sets of the others.
		const exact = byPowers(Array.from({ length: 11 }, (_, i) => 1.1 + i / 20));
		attribute(11, f, { seed: 3 }).effects.forEach((e, g) =>
			expect(Math.abs(e / exact[g] - 1)).toBeLessThan(0.08)
		);
	});
});

describe('accuracy of forecasts', () => {
	it('tells error, absolute error and bias; blanks are left out', () => {
		const result = accuracy([
			{ forecast: 110, actual: 100 },
			{ forecast: 80, actual: 100 },
			{ forecast: null, actual: 100 },
			{ forecast: 5, actual: null }
		]);
		expect(result).toEqual({ pairs: 2, error: -10, absoluteError: 30, absoluteShare: 0.15, bias: -0.05 });
		expect(accuracy([{ forecast: 1, actual: 0 }])).toMatchObject({ absoluteShare: null, bias: null });
	});
});
