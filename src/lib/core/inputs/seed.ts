/** Typed values as given values of a line. */
import type { Axis } from '../engine/axis';
import { BLANK, marksOf, newMatrix, setCell, type Matrix } from '../engine/values';
import type { Series } from './series';

/** Typed values as a matrix, everything else blank. */
export function seed(
	series: readonly Series[],
	rowOf: ReadonlyMap<string, number>,
	rows: number,
	axis: Axis
): Matrix {
	const matrix = newMatrix(rows, axis.length);
	marksOf(matrix).fill(BLANK);
	for (const s of series) {
		const row = rowOf.get(s.row);
		if (row === undefined) continue;
		s.values.forEach((value, i) => {
			const t = s.first + i - axis.first;
			if (t >= 0 && t < axis.length && !Number.isNaN(value)) setCell(matrix, row, t, value);
		});
	}
	return matrix;
}
