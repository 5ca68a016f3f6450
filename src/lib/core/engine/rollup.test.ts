import * as fc from 'fast-check';
import { expect, it } from 'vitest';
import { rollUp, rollUps, type Grouping } from './rollup';
import { BLANK, cellAt, marksOf, newMatrix, setCell, type Cell, type Matrix } from './values';

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

const mean = (l: number[]) => (l.length ? sum(l) / l.length : null);
const numbers = (l: (number | null)[]) => l.filter((v): v is number => v !== null);
/** What several members are in each month, then what several months are. */
const overTime = { sum: (l: number[]) => (l.length ? sum(l) : null), average: mean };

it.each(['sum', 'average'] as const)('averages members in each month first, then %ss months', (time) => {
	agrees(time, 'average', (list, rows, g, q) =>
		overTime[time](numbers(months(q).map((t) => mean(cells(list, rows, g, [t])))))
	);
});

it.each(['sum', 'average', 'last'] as const)(
	'weighs members in each month first, then takes the %s of months; one row alone is not weighed',
	(time) => {
		agrees(time, 'weighted:w', (list, rows, g, q, weight) => {
			const own = rows.flatMap((group, r) => (group === g ? [r] : []));
			const monthly = (t: number) => {
				const held = own.filter((r) => list[t * ROWS + r] !== null);
				const heft = (r: number) => (own.length === 1 ? 1 : (weight[t * ROWS + r] ?? 0));
				const mass = sum(held.map(heft));
				return mass === 0 ? null : sum(held.map((r) => list[t * ROWS + r]! * heft(r))) / mass;
			};
			if (time === 'last') return monthly(3 * q + 2);
			return overTime[time](numbers(months(q).map(monthly)));
		});
	}
);

it.each([
	['sum', 60],
	['average', 20],
	['last', 30]
] as const)('one row of 10, 20, 30 has the %s %d, whatever its members are', (time, expected) => {
	for (const members of ['sum', 'average', 'weighted:w']) {
		const x = newMatrix(1, 3);
		[10, 20, 30].forEach((v, t) => setCell(x, 0, t, v));
		const none = newMatrix(1, 3);
		const whole = { rows: Int32Array.of(0), groups: 1, periods: Int32Array.of(0, 0, 0), buckets: 1 };
		const rolled = rollUp((code) => (code === 'x' ? x : none), line(time, members), whole);
		expect(cellAt(rolled.get('x')!, 0, 0)).toBe(expected);
	}
});

/** The table of the manual: two rows over three months. */
const WORKED = {
	values: [
		[10, 20, 30],
		[14, 24, 34]
	],
	weights: [
		[1, 1, 1],
		[3, 1, 3]
	]
};
it.each([
	['sum', 'sum', 132],
	['sum', 'average', 66],
	['sum', 'weighted:w', 68],
	['last', 'sum', 64],
	['last', 'average', 32],
	['last', 'weighted:w', 33],
	['average', 'sum', 44],
	['average', 'average', 22],
	['average', 'weighted:w', 68 / 3],
	['formula', 'weighted:w', 22.8]
] as const)('time %s and members %s of the manual’s two rows: %d', (time, members, expected) => {
	const matrixOf = (rows: number[][]) => {
		const m = newMatrix(2, 3);
		rows.forEach((row, r) => row.forEach((v, t) => setCell(m, r, t, v)));
		return m;
	};
	const x = matrixOf(WORKED.values);
	const w = matrixOf(WORKED.weights);
	const rolled = rollUp((code) => (code === 'x' ? x : w), [{ code: 'x', time, members, expr: null }], {
		rows: Int32Array.of(0, 0),
		groups: 1,
		periods: Int32Array.of(0, 0, 0),
		buckets: 1
	});
	expect(cellAt(rolled.get('x')!, 0, 0)).toBeCloseTo(expected, 9);
});

it('says that a weight is an error rather than weighing by it', () => {
	const [x, w] = [newMatrix(2, 1), newMatrix(2, 1)];
	marksOf(w)[1] = BLANK + 1;
	w.values[1] = NaN;
	const rolled = rollUp((code) => (code === 'x' ? x : w), line('sum', 'weighted:w'), {
		rows: Int32Array.of(0, 0),
		groups: 1,
		periods: Int32Array.of(0),
		buckets: 1
	});
	expect(cellAt(rolled.get('x')!, 0, 0)).toBe(cellAt(w, 1, 0));
	expect(cellAt(w, 1, 0)).toMatch(/^#/);
});

it('pools months and members by weight where a typed line is recomputed over time', () => {
	fc.assert(
		fc.property(
			values,
			fc.array(fc.nat(9), { minLength: ROWS * PERIODS, maxLength: ROWS * PERIODS }),
			groups,
			(list, weight, rows) => {
				const [x, w] = [matrix(list), matrix(weight)];
				const rolled = rollUp(
					(code) => (code === 'x' ? x : w),
					[{ code: 'x', time: 'formula', members: 'weighted:w', expr: null }],
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

it('comes to the same, taken together once for several ways over time, as for each of them alone', () => {
	/** Ways that leave out other periods, take one together twice, and are of other numbers of buckets. */
	const times = [
		{ periods: QUARTERS, buckets: 3 },
		{ periods: Int32Array.from({ length: PERIODS }, (_, t) => (t >= 6 && t < 10 ? t - 6 : -1)), buckets: 4 },
		{ periods: Int32Array.from({ length: PERIODS }, (_, t) => (t >= 2 ? 0 : -1)), buckets: 1 }
	];
	const ways = fc.constantFrom('sum' as const, 'last' as const, 'average' as const, 'formula' as const);
	const members = fc.constantFrom('sum', 'average', 'weighted:w');
	fc.assert(
		fc.property(
			values,
			values,
			groups,
			ways,
			members,
			fc.nat(ROWS * PERIODS - 1),
			(list, weight, rows, time, by, at) => {
				const [x, w] = [matrix(list), matrix(weight)];
				marksOf(x)[at] = BLANK + 1;
				x.values[at] = NaN;
				const matrixOf = (code: string) => (code === 'x' ? x : w);
				const lines = [{ code: 'x', time, members: by, expr: null }];
				const grouped = { rows: Int32Array.from(rows), groups: 3 };
				const together = rollUps(matrixOf, lines, grouped, times).map((found) => found.get('x')!);
				times.forEach((own, i) => {
					const alone = rollUp(matrixOf, lines, { ...grouped, ...own }).get('x')!;
					expect([...together[i].values]).toEqual([...alone.values]);
					expect([...(together[i].marks ?? [])]).toEqual([...(alone.marks ?? [])]);
				});
			}
		)
	);
});
