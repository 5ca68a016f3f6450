/** A line in periods of another kind, where no formula reads it so. */
import type { Axis } from './axis';
import type { Calculation } from './calculation';
import { meeting, retime } from './retime';
import { newMatrix, type Matrix } from './values';

/**
 * A line’s values in the periods of another axis, by days, to be rolled up further: of a line that is recomputed from
 * totals its operands are what counts.
 */
export function carried(calculation: Calculation, block: string, line: string, to: Axis): Matrix {
	const { network } = calculation;
	const { matrix, overTime } = network.lines[network.find(block, line)];
	const own = calculation.axisOf(block);
	if (own === to || matrix.timeless) return matrix;
	const out = newMatrix(matrix.rows, to.length);
	const weight =
		typeof overTime === 'object' && 'weight' in overTime ? calculation.matrix(block, overTime.weight) : null;
	const how = typeof overTime === 'object' ? 'average' : overTime;
	retime(out, matrix, weight, how, meeting(own, to), 0, matrix.rows, 0, to.length);
	return out;
}
