/** Sums rows of other lines into a line's rows: postings, and totals over members. */
import { BLANK, marksOf, NUMBER, type Matrix } from './values';

/** A line whose rows flow in: which row of it goes into which of ours, in the order of its rows. */
export interface InflowSource {
	line: number;
	rows: Int32Array;
	into: Int32Array;
	/** The one row of ours into which all of a run of rows goes; null otherwise. */
	total: { into: number; first: number } | null;
}

/** @param index for each source row the target row, −1 for none */
export function inflowSource(line: number, index: Int32Array): InflowSource {
	const rows = Int32Array.from(index.keys()).filter((r) => index[r] >= 0);
	const into = rows.map((r) => index[r]);
	const together =
		rows.length > 0 && into.every((r) => r === into[0]) && rows.every((r, k) => r === rows[0] + k);
	return { line, rows, into, total: together ? { into: into[0], first: rows[0] } : null };
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
	const all = lo === 0 && hi >= target.rows;
	for (let t = from; t < to; t++) {
		target.values.fill(0, t * target.rows + lo, t * target.rows + hi);
		target.marks?.fill(NUMBER, t * target.rows + lo, t * target.rows + hi);
	}
	const out = target.values;
	for (const { line, rows, into, total } of sources) {
		const { matrix } = lines[line];
		const { values } = matrix;
		for (let t = from; t < to; t++) {
			const s = (matrix.timeless ? 0 : t * matrix.rows) | 0;
			const d = (t * target.rows) | 0;
			if (total) {
				if (total.into < lo || total.into >= hi) continue;
				let sum = out[d + total.into];
				const first = (s + total.first) | 0;
				for (let k = 0; k < rows.length; k++) sum += values[first + k];
				out[d + total.into] = sum;
			} else
				for (let k = 0; k < rows.length; k++) {
					const r = into[k];
					if (all || (r >= lo && r < hi)) out[d + r] += values[s + rows[k]];
				}
			if (!matrix.errors || !matrix.marks) continue;
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
