/** Sums rows of other lines into a line's rows: postings, and totals over members. */
import type { Axis } from './axis';
import type { Factors } from './spec';
import { BLANK, marksOf, NUMBER, RATE, type Matrix } from './values';

/** A line whose rows flow in: which row of it goes into which of ours, in the order of its rows. */
export interface InflowSource {
	line: number;
	rows: Int32Array;
	into: Int32Array;
	/** The same rows by where they go, each of our rows once and its own in their order. */
	groups: readonly Group[];
	/** What rows are multiplied by first: which of the lists, a factor a period. */
	factors: { of: Int32Array; lists: readonly Float64Array[] } | null;
}
interface Group {
	into: number;
	rows: Int32Array;
	/** The first of them where they stand one behind the other; −1 elsewhere. */
	run: number;
}

/**
 * @param index for each source row the target row, −1 for none
 * @param factors on the periods of the axis
 */
export function inflowSource(
	line: number,
	index: Int32Array,
	factors: Factors | null | undefined,
	axis: Axis
): InflowSource {
	const rows = Int32Array.from(index.keys()).filter((r) => index[r] >= 0);
	const into = rows.map((r) => index[r]);
	const own = new Map<number, number[]>();
	for (const r of rows) {
		const list = own.get(index[r]);
		if (list) list.push(r);
		else own.set(index[r], [r]);
	}
	const groups = [...own].map(([to, list]) => ({
		into: to,
		rows: Int32Array.from(list),
		run: list.every((r, k) => r === list[0] + k) ? list[0] : -1
	}));
	const needed = factors && rows.some((r) => factors.of[r] >= 0);
	return {
		line,
		rows,
		into,
		groups,
		factors: needed ? { of: factors.of, lists: factors.on(axis) } : null
	};
}

/**
 * Replaces the target's rows lo..hi and periods from..to (each excluded at the end) by the sums of the sources'
 * rows. Source rows are always added in their order, so that the same rows give the same bits.
 */
export function sumInto(
	target: Matrix,
	sources: readonly InflowSource[],
	lines: readonly { matrix: Matrix }[],
	lo: number,
	hi: number,
	from: number,
	to: number
): void {
	for (let t = from; t < to; t++) {
		target.values.fill(0, t * target.rows + lo, t * target.rows + hi);
		target.marks?.fill(NUMBER, t * target.rows + lo, t * target.rows + hi);
	}
	const out = target.values;
	for (const { line, rows, into, groups, factors } of sources) {
		const { matrix } = lines[line];
		for (const group of groups)
			if (group.into >= lo && group.into < hi)
				if (factors) addTimes(target, matrix, group, factors, from, to);
				else addRows(out, target.rows, matrix, group, from, to);
		if (!matrix.errors || !matrix.marks) continue;
		for (let t = from; t < to; t++) {
			const s = matrix.timeless ? 0 : t * matrix.rows;
			const d = t * target.rows;
			for (let k = 0; k < rows.length; k++) {
				const mark = matrix.marks[s + rows[k]];
				if (mark <= BLANK || into[k] < lo || into[k] >= hi) continue;
				marksOf(target)[d + into[k]] = mark;
				out[d + into[k]] = NaN;
				target.errors = true;
			}
		}
	}
}

/** What is summed up before is gone on from: the order of additions is that of the rows. */
function addRows(
	out: Float64Array,
	width: number,
	{ values, rows: height, timeless }: Matrix,
	{ into, rows, run }: Group,
	from: number,
	to: number
): void {
	const n = rows.length | 0;
	for (let t = from; t < to; t++) {
		const s = (timeless ? 0 : t * height) | 0;
		const at = (t * width + into) | 0;
		let sum = out[at];
		if (run >= 0) {
			const first = (s + run) | 0;
			for (let k = 0; k < n; k++) sum += values[first + k];
		} else for (let k = 0; k < n; k++) sum += values[(s + rows[k]) | 0];
		out[at] = sum;
	}
}

/** Each row times its factor; what would need one that is missing is an error. 0 is 0 at any rate. */
function addTimes(
	target: Matrix,
	{ values, rows: height, timeless }: Matrix,
	{ into, rows }: Group,
	{ of, lists }: NonNullable<InflowSource['factors']>,
	from: number,
	to: number
): void {
	const out = target.values;
	for (let t = from; t < to; t++) {
		const s = timeless ? 0 : t * height;
		const at = t * target.rows + into;
		let sum = out[at];
		for (const r of rows) {
			const value = values[s + r];
			if (value === 0) continue;
			const factor = of[r] < 0 ? 1 : lists[of[r]][t];
			sum += value * factor;
			if (!Number.isNaN(factor)) continue;
			marksOf(target)[at] = RATE;
			target.errors = true;
		}
		out[at] = sum;
	}
}
