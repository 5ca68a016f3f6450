/** Roll-up of a block's lines over members and time, each line in its own way. */
import type { Expr } from '../formula/ast';
import { bareAxis } from './axis';
import { Calculation } from './calculation';
import type { LineSpec } from './spec';
import { BLANK, NUMBER, marksOf, newMatrix, type Matrix } from './values';

export interface RollupLine {
	code: string;
	time: 'sum' | 'last' | 'average' | 'formula';
	/** `weighted:line` weighs by another line. */
	members: string;
	/** Needed where one of the two is `formula`. */
	expr: Expr | null;
}

export interface Grouping {
	/** For each row its group, −1 to leave it out. */
	rows: Int32Array;
	groups: number;
	/** For each period index its bucket, −1 to leave it out; buckets in order of time. */
	periods: Int32Array;
	buckets: number;
}

/**
 * Rolled-up values, groups × buckets, for every line of a block.
 * `formula` recomputes the line from rolled-up operands: a year's price is its revenue ÷ its units.
 */
export function rollUp(
	matrixOf: (line: string) => Matrix,
	lines: readonly RollupLine[],
	grouping: Grouping
): Map<string, Matrix> {
	const { groups, buckets } = grouping;
	const specs: LineSpec[] = lines.map((line) => {
		const weighted = line.members.startsWith('weighted:');
		const byFormula = line.members === 'formula' || (line.time === 'formula' && !weighted);
		if (byFormula && line.expr)
			return { code: line.code, additive: true, rules: [{ from: 0, expr: line.expr }] };
		const weight = line.members.startsWith('weighted:')
			? matrixOf(line.members.slice('weighted:'.length))
			: null;
		return { code: line.code, additive: true, seed: rollUpLine(matrixOf(line.code), line, weight, grouping) };
	});
	const axis = bareAxis(buckets, 0, 1);
	const rows = Array.from({ length: groups }, (_, i) => [String(i)]);
	const calculation = new Calculation(axis, [
		{ id: 'rollup', dimensions: ['group'], rows, lines: specs }
	]).calculate();
	return new Map(lines.map((line) => [line.code, calculation.matrix('rollup', line.code)]));
}

function rollUpLine(source: Matrix, line: RollupLine, weight: Matrix | null, g: Grouping): Matrix {
	const out = newMatrix(g.groups, g.buckets);
	const sums = out.values;
	const cells = g.groups * g.buckets;
	const count = new Float64Array(cells);
	/** Periods that held a number, per cell: an average does not count blanks. */
	const periodsIn = new Float64Array(cells);
	const lastSeen = new Int32Array(cells).fill(-1);
	const error = new Uint8Array(cells);
	const lastOf = new Int32Array(g.buckets).fill(-1);
	g.periods.forEach((b, t) => {
		if (b >= 0) lastOf[b] = t;
	});
	const meanOfMembers = line.members === 'average';
	const meanOfPeriods = line.time === 'average';
	const { values, marks } = source;
	const weights = weight?.values ?? null;
	/** Rows that belong to a group: often few of many. */
	const rows = Int32Array.from(Array.from(g.rows.keys()).filter((r) => g.rows[r] >= 0));
	const groups = Int32Array.from(rows, (r) => g.rows[r]);
	for (let t = 0; t < source.periods; t++) {
		const bucket = g.periods[t];
		if (bucket < 0 || (line.time === 'last' && t !== lastOf[bucket])) continue;
		const from = t * source.rows;
		const to = bucket * g.groups;
		for (let k = 0; k < rows.length;) {
			// Neighbours of one group are summed in place, without looking up their total for each.
			const group = groups[k];
			const o = to + group;
			let sum = sums[o];
			let seen = count[o];
			for (; k < rows.length && groups[k] === group; k++) {
				const i = from + rows[k];
				if (marks !== null && marks[i] !== NUMBER) {
					if (marks[i] !== BLANK) error[o] = marks[i];
					continue;
				}
				const w = weights === null ? 1 : weights[i];
				sum += values[i] * w;
				seen += w;
				if (meanOfPeriods && lastSeen[o] !== t) {
					lastSeen[o] = t;
					periodsIn[o]++;
				}
			}
			sums[o] = sum;
			count[o] = seen;
		}
	}
	for (let b = 0; b < g.buckets; b++)
		for (let group = 0; group < g.groups; group++) {
			const o = b * g.groups + group;
			if (error[o]) {
				marksOf(out)[o] = error[o];
				out.values[o] = NaN;
				out.errors = true;
			} else if (count[o] === 0) {
				out.values[o] = 0;
				marksOf(out)[o] = BLANK;
			} else if (weight || meanOfMembers) out.values[o] /= count[o];
			else if (meanOfPeriods) out.values[o] /= periodsIn[o];
		}
	return out;
}
