import * as fc from 'fast-check';
import { expect, it } from 'vitest';
import { rollUp, type Grouping } from './rollup';
import { cellAt, newMatrix, setCell, type Cell, type Matrix } from './values';

const ROWS = 6;
const PERIODS = 12;
const values = fc.array(fc.option(fc.integer({ min: -50, max: 50 }), { freq: 4 }), {
	minLength: ROWS * PERIODS,
	maxLength: ROWS * PERIODS
});
const groups = fc.array(fc.integer({ min: -1, max: 2 }), { minLength: ROWS, maxLength: ROWS });
const matrix = (cells: (number | null)[]): Matrix => {
	const m = newMatrix(ROWS, PERIODS);
	cells.forEach((v, i) => setCell(m, i % ROWS, Math.floor(i / ROWS), v));
	return m;
};
/** Quarters; the last one is left out. */
const QUARTERS = Int32Array.from({ length: PERIODS }, (_, t) => (t < 9 ? Math.floor(t / 3) : -1));
const grouping = (rows: number[]): Grouping => ({
	rows: Int32Array.from(rows),
	groups: 3,
	periods: QUARTERS,
	buckets: 3
});
const line = (time: 'sum' | 'last' | 'average', members = 'sum') => [
	{ code: 'x', time, members, expr: null }
];
const cells = (list: (number | null)[], rows: number[], group: number, periods: number[]) =>
	periods
		.flatMap((t) => rows.flatMap((g, r) => (g === group ? [list[t * ROWS + r]] : [])))
		.filter((v): v is number => v !== null);

/** Calls `expected` for every group and quarter, and compares. */
function agrees(
	time: 'sum' | 'last' | 'average',
	members: string,
	expected: (
		list: (number | null)[],
		rows: number[],
		group: number,
		quarter: number,
		weight: (number | null)[]
	) => Cell
) {
	fc.assert(
		fc.property(values, values, groups, (list, weight, rows) => {
			const [x, w] = [matrix(list), matrix(weight)];
			const rolled = rollUp((code) => (code === 'x' ? x : w), line(time, members), grouping(rows)).get('x')!;
			for (let g = 0; g < 3; g++)
				for (let q = 0; q < 3; q++) {
					const [actual, wanted] = [cellAt(rolled, g, q), expected(list, rows, g, q, weight)];
					if (typeof wanted === 'number' && typeof actual === 'number') expect(actual).toBeCloseTo(wanted, 9);
					else expect(actual).toBe(wanted);
				}
		})
	);
}
const months = (q: number) => [3 * q, 3 * q + 1, 3 * q + 2];
const sum = (l: number[]) => l.reduce((a, b) => a + b, 0);

it('sums leaves and skips blanks; nothing but blanks is blank', () => {
	agrees('sum', 'sum', (list, rows, g, q) => {
		const all = cells(list, rows, g, months(q));
		return all.length ? sum(all) : null;
	});
});

it('takes the last month of a span, summed over members', () => {
	agrees('last', 'sum', (list, rows, g, q) => {
		const all = cells(list, rows, g, [3 * q + 2]);
		return all.length ? sum(all) : null;
	});
});

it('averages months that hold a number, of the sum over members', () => {
	agrees('average', 'sum', (list, rows, g, q) => {
		const filled = months(q)
			.map((t) => cells(list, rows, g, [t]))
			.filter((l) => l.length);
		return filled.length ? sum(filled.flat()) / filled.length : null;
	});
});

it('averages over members and months that hold a number', () => {
	agrees('average', 'average', (list, rows, g, q) => {
		const all = cells(list, rows, g, months(q));
		return all.length ? sum(all) / all.length : null;
	});
});

it('weighs by another line; without weight there is no mean', () => {
	fc.assert(
		fc.property(
			values,
			fc.array(fc.nat(9), { minLength: ROWS * PERIODS, maxLength: ROWS * PERIODS }),
			groups,
			(list, weight, rows) => {
				const [x, w] = [matrix(list), matrix(weight)];
				const rolled = rollUp(
					(code) => (code === 'x' ? x : w),
					line('sum', 'weighted:w'),
					grouping(rows)
				).get('x')!;
				for (let g = 0; g < 3; g++)
					for (let q = 0; q < 3; q++) {
						let [top, bottom] = [0, 0];
						for (const t of months(q))
							rows.forEach((group, r) => {
								const v = list[t * ROWS + r];
								if (group !== g || v === null) return;
								top += v * weight[t * ROWS + r];
								bottom += weight[t * ROWS + r];
							});
						const actual = cellAt(rolled, g, q);
						if (bottom === 0) expect(actual).toBeNull();
						else expect(actual).toBeCloseTo(top / bottom, 9);
					}
			}
		)
	);
});
