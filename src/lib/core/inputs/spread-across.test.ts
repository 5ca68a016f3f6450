/** Totals over cells in several currencies tie, and each cell is a whole amount of its own. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { spread } from './spread';
import { spreadAcross, type FactoredCell } from './spread-across';

const cell = (value: number | null, factor = 1, held = false): FactoredCell => ({ value, factor, held });
const sum = (cells: readonly FactoredCell[], values: readonly number[]) =>
	values.reduce((s, v, i) => s + v * cells[i].factor, 0);

describe('a total over several currencies', () => {
	it('is shared by what cells are worth, each in whole cents of its own', () => {
		// 8,400 pounds and 4,000 euro at 0.84, 3,360 pounds: 11,760 together, to be 14,700, a quarter more.
		const cells = [cell(8_400), cell(4_000, 0.84)];
		expect(spreadAcross(cells, 14_700, { kind: 'proportion' }, 2)).toEqual({
			ok: true,
			values: [10_500, 5_000]
		});
		// Half each: 500 pounds, and 500 / 0.84 = 595.238 euro; the 0.0008 that this leaves is less than half a penny.
		expect(spreadAcross(cells, 1_000, { kind: 'evenly' }, 2)).toEqual({ ok: true, values: [500, 595.24] });
		// A shape of 1 : 1 in the cells' own is 1 : 0.84 in pounds.
		expect(spreadAcross(cells, 1_840, { kind: 'weights', weights: [1, 1] }, 2)).toEqual({
			ok: true,
			values: [1_000, 1_000]
		});
	});
	it('keeps what is held, at what it is worth', () => {
		const cells = [cell(100), cell(100, 0.9, true), cell(50, 0.5)];
		expect(spreadAcross(cells, 340, { kind: 'proportion' }, 2)).toEqual({
			ok: true,
			values: [200, 100, 100]
		});
	});
	it('is the plain spread where all count as the total does', () => {
		const cells = [130, 154, 166].map((v) => cell(v));
		expect(spreadAcross(cells, 500, { kind: 'proportion' }, 0)).toEqual(
			spread(cells, 500, { kind: 'proportion' }, 0)
		);
	});
	it('is refused for the same reasons', () => {
		expect(spreadAcross([cell(0), cell(0, 0.9)], 10, { kind: 'proportion' }, 2)).toMatchObject({
			ok: false,
			reason: 'no-proportion'
		});
		expect(spreadAcross([cell(5, 0.9, true)], 10, { kind: 'evenly' }, 2)).toMatchObject({
			ok: false,
			reason: 'all-held'
		});
	});
	it('ties to the last digit where one free cell counts as it does, else to half a unit of a cell', () => {
		fc.assert(
			fc.property(
				fc.array(
					fc.record({
						value: fc.integer({ min: 1, max: 10_000_000 }).map((v) => v / 100),
						factor: fc.constantFrom(1, 0.84, 0.8655, 1.1731, 0.0123),
						held: fc.boolean()
					}),
					{ minLength: 1, maxLength: 60 }
				),
				fc.integer({ min: -10_000_000, max: 10_000_000 }).map((v) => v / 100),
				fc.constantFrom('proportion' as const, 'evenly' as const),
				(cells, total, kind) => {
					fc.pre(cells.some((c) => !c.held));
					const result = spreadAcross(cells, total, { kind }, 2);
					if (!result.ok) return expect(result.reason).toBe('no-proportion');
					const free = cells.filter((c) => !c.held);
					const off = Math.abs(sum(cells, result.values) - total);
					const unit = free.some((c) => c.factor === 1) ? 1 : Math.max(...free.map((c) => c.factor));
					expect(off).toBeLessThanOrEqual(0.005 * unit + 1e-6);
					result.values.forEach((v, i) => {
						if (cells[i].held) expect(v).toBe(cells[i].value);
						expect(Math.round(v * 100) / 100).toBe(v);
					});
				}
			)
		);
	});
});
