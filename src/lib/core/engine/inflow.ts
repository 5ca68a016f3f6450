/** Sums rows of other lines into a line's rows: postings, and totals over members. */
import { BLANK, marksOf, NUMBER, type Matrix } from './values';

/**
 * Replaces the target's rows lo..hi and periods from..to (each excluded at the end) by the sums of the sources'
 * rows. Source rows are always added in their order, so that the same rows give the same bits.
 */
export function sumInto(
	target: Matrix,
	sources: readonly { line: number; index: Int32Array }[],
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
	for (const { line, index } of sources) {
		const { matrix } = lines[line];
		for (let t = from; t < to; t++) {
			const s = matrix.timeless ? 0 : t * matrix.rows;
			const d = t * target.rows;
			for (let r = 0; r < matrix.rows; r++) {
				const into = index[r];
				if (into < 0 || (!all && (into < lo || into >= hi))) continue;
				target.values[d + into] += matrix.values[s + r];
			}
			if (!matrix.errors || !matrix.marks) continue;
			for (let r = 0; r < matrix.rows; r++) {
				const into = index[r];
				if (into < lo || into >= hi || matrix.marks[s + r] <= BLANK) continue;
				marksOf(target)[d + into] = matrix.marks[s + r];
				target.values[d + into] = NaN;
				target.errors = true;
			}
		}
	}
}
