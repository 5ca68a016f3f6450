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

/**
 * Two questions, one after the other: what several members are in a period, then what several periods are. Weighted
 * members of a line that is recomputed over time are pooled: each period counts by its weight.
 */
function rollUpLine(source: Matrix, line: RollupLine, weight: Matrix | null, g: Grouping): Matrix {
	const out = newMatrix(g.groups, g.buckets);
	const cells = g.groups * g.buckets;
	const pooled = weight !== null && line.time === 'formula';
	/** Periods that hold a number, per cell: nothing is averaged over blanks. Of what is pooled, its weight. */
	const counted = new Float64Array(cells);
	const error = new Uint8Array(cells);
	const lastOf = new Int32Array(g.buckets).fill(-1);
	g.periods.forEach((b, t) => {
		if (b >= 0) lastOf[b] = t;
	});
	const runs = runsOf(g.rows);
	const single = pooled ? null : groupsOfOne(g);
	/** Of a period, per group: the sum, and how many numbers or how much weight are in it. */
	const sum = new Float64Array(g.groups);
	const mass = new Float64Array(g.groups);
	const { values, marks } = source;
	const addPlain = (group: number, from: number, to: number) => {
		let total = sum[group];
		for (let i = from; i < to; i++) total += values[i];
		sum[group] = total;
		mass[group] += to - from;
	};
	const add = (group: number, from: number, to: number, at: number, weights: Matrix | null) => {
		for (let i = from; i < to; i++) {
			if (marks !== null && marks[i] !== NUMBER) {
				if (marks[i] !== BLANK) error[at] = marks[i];
				continue;
			}
			if (weights?.marks && weights.marks[i] > BLANK) error[at] = weights.marks[i];
			const weight = weights === null ? 1 : weights.values[i];
			sum[group] += values[i] * weight;
			mass[group] += weight;
		}
	};
	const mean = !pooled && (weight !== null || line.members === 'average');
	for (let t = 0; t < source.periods; t++) {
		const bucket = g.periods[t];
		if (bucket < 0 || (line.time === 'last' && t !== lastOf[bucket])) continue;
		const start = t * source.rows;
		const first = bucket * g.groups;
		sum.fill(0);
		mass.fill(0);
		for (const { group, from, to } of runs)
			if (marks === null && weight === null) addPlain(group, start + from, start + to);
			else add(group, start + from, start + to, first + group, single?.[group] ? null : weight);
		for (let group = 0; group < g.groups; group++) {
			if (mass[group] === 0 && !pooled) continue;
			out.values[first + group] += mean ? sum[group] / mass[group] : sum[group];
			counted[first + group] += pooled ? mass[group] : 1;
		}
	}
	for (let o = 0; o < cells; o++)
		if (error[o]) {
			marksOf(out)[o] = error[o];
			out.values[o] = NaN;
			out.errors = true;
		} else if (counted[o] === 0) {
			out.values[o] = 0;
			marksOf(out)[o] = BLANK;
		} else if (pooled || line.time === 'average') out.values[o] /= counted[o];
	return out;
}

/** Groups of a single row: that row is what they are, whatever it weighs. */
function groupsOfOne(g: Grouping): Uint8Array {
	const rows = new Uint32Array(g.groups);
	for (const group of g.rows) if (group >= 0) rows[group]++;
	return Uint8Array.from(rows, (n) => (n === 1 ? 1 : 0));
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
