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

const WEIGHTED = 'weighted:';
/** The formula by which a line is recomputed from totals of others; null where its own values are rolled up. */
export function totalsBy({ members, time, expr }: RollupLine): Expr | null {
	return members === 'formula' || (time === 'formula' && !members.startsWith(WEIGHTED)) ? expr : null;
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
		const expr = totalsBy(line);
		if (expr) return { code: line.code, additive: true, rules: [{ from: 0, expr }] };
		const weight = line.members.startsWith(WEIGHTED) ? matrixOf(line.members.slice(WEIGHTED.length)) : null;
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
	const { values, marks } = source;
	const weights = weight?.values ?? null;
	const runs = runsOf(g.rows);
	for (let t = 0; t < source.periods; t++) {
		const bucket = g.periods[t];
		if (bucket < 0 || (line.time === 'last' && t !== lastOf[bucket])) continue;
		const start = t * source.rows;
		for (const { group, from, to } of runs) {
			const o = bucket * g.groups + group;
			const end = start + to;
			let sum = sums[o];
			let numbers = 0;
			let weighed = 0;
			if (marks === null && weights === null) {
				for (let i = start + from; i < end; i++) sum += values[i];
				numbers = to - from;
			} else
				for (let i = start + from; i < end; i++) {
					if (marks !== null && marks[i] !== NUMBER) {
						if (marks[i] !== BLANK) error[o] = marks[i];
						continue;
					}
					numbers++;
					if (weights === null) sum += values[i];
					else {
						sum += values[i] * weights[i];
						weighed += weights[i];
					}
				}
			sums[o] = sum;
			count[o] += weights === null ? numbers : weighed;
			if (numbers > 0 && lastSeen[o] !== t) {
				lastSeen[o] = t;
				periodsIn[o]++;
			}
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
			else if (line.time === 'average') out.values[o] /= periodsIn[o];
		}
	return out;
}

/** Neighbouring rows of one group: they are summed without looking anything up for each. */
function runsOf(groupOf: Int32Array): { group: number; from: number; to: number }[] {
	const runs: { group: number; from: number; to: number }[] = [];
	for (let r = 0; r < groupOf.length; r++) {
		const group = groupOf[r];
		const last = runs.at(-1);
		if (group < 0) continue;
		if (last?.group === group && last.to === r) last.to++;
		else runs.push({ group, from: r, to: r + 1 });
	}
	return runs;
}
