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
	const grouped: Grouped = { ...grouping, runs: runsOf(grouping.rows), single: groupsOfOne(grouping) };
	const specs: LineSpec[] = lines.map((line) => {
		const expr = totalsBy(line);
		if (expr) return { code: line.code, additive: true, rules: [{ from: 0, expr }] };
		const weight = line.members.startsWith(WEIGHTED) ? matrixOf(line.members.slice(WEIGHTED.length)) : null;
		return { code: line.code, additive: true, seed: rollUpLine(matrixOf(line.code), line, weight, grouped) };
	});
	const axis = bareAxis(buckets, 0, 1);
	const rows = Array.from({ length: groups }, (_, i) => [String(i)]);
	const calculation = new Calculation(axis, [
		{ id: 'rollup', dimensions: ['group'], rows, lines: specs }
	]).calculate();
	return new Map(lines.map((line) => [line.code, calculation.matrix('rollup', line.code)]));
}

/** A grouping with what is the same for every line. */
interface Grouped extends Grouping {
	runs: Int32Array;
	/** For each group whether it is a single row: that row is what it is, whatever it weighs. */
	single: Uint8Array;
}

/** Of a period, per group: the sum, and how many numbers or how much weight are in it. */
interface Sums {
	sum: Float64Array;
	mass: Float64Array;
}

/**
 * Two questions, one after the other: what several members are in a period, then what several periods are. Weighted
 * members of a line that is recomputed over time are pooled: each period counts by its weight.
 */
function rollUpLine(source: Matrix, line: RollupLine, weight: Matrix | null, g: Grouped): Matrix {
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
	const single = pooled ? null : g.single;
	const sums: Sums = { sum: new Float64Array(g.groups), mass: new Float64Array(g.groups) };
	const { sum, mass } = sums;
	const mean = !pooled && (weight !== null || line.members === 'average');
	for (let t = 0; t < source.periods; t++) {
		const bucket = g.periods[t];
		if (bucket < 0 || (line.time === 'last' && t !== lastOf[bucket])) continue;
		const start = t * source.rows;
		const first = bucket * g.groups;
		sum.fill(0);
		mass.fill(0);
		if (source.marks === null && weight === null) addPlain(sums, source.values, g.runs, start);
		else addMarked(sums, source, g.runs, start, { weight, single, error, first });
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

function addPlain({ sum, mass }: Sums, values: Float64Array, runs: Int32Array, start: number): void {
	for (let k = 0; k < runs.length; k += 3) {
		const group = runs[k];
		const end = start + runs[k + 2];
		let total = sum[group];
		for (let i = start + runs[k + 1]; i < end; i++) total += values[i];
		sum[group] = total;
		mass[group] += runs[k + 2] - runs[k + 1];
	}
}

/** Blanks count for nothing; errors are noted for each group from `first` on. */
function addMarked(
	{ sum, mass }: Sums,
	{ values, marks }: Matrix,
	runs: Int32Array,
	start: number,
	{
		weight,
		single,
		error,
		first
	}: { weight: Matrix | null; single: Uint8Array | null; error: Uint8Array; first: number }
): void {
	for (let k = 0; k < runs.length; k += 3) {
		const group = runs[k];
		const end = start + runs[k + 2];
		const weights = single?.[group] ? null : weight;
		for (let i = start + runs[k + 1]; i < end; i++) {
			if (marks !== null && marks[i] !== NUMBER) {
				if (marks[i] !== BLANK) error[first + group] = marks[i];
				continue;
			}
			if (weights?.marks && weights.marks[i] > BLANK) error[first + group] = weights.marks[i];
			const own = weights === null ? 1 : weights.values[i];
			sum[group] += values[i] * own;
			mass[group] += own;
		}
	}
}

function groupsOfOne(g: Grouping): Uint8Array {
	const rows = new Uint32Array(g.groups);
	for (const group of g.rows) if (group >= 0) rows[group]++;
	return Uint8Array.from(rows, (n) => (n === 1 ? 1 : 0));
}

/** Neighbouring rows of one group, to be summed without looking anything up for each: its number, the first and the end of each run. */
function runsOf(groupOf: Int32Array): Int32Array {
	const runs = new Int32Array(3 * groupOf.length);
	let end = 0;
	for (let r = 0; r < groupOf.length; r++) {
		const group = groupOf[r];
		if (group < 0) continue;
		if (end > 0 && runs[end - 3] === group && runs[end - 1] === r) runs[end - 1]++;
		else {
			runs[end++] = group;
			runs[end++] = r;
			runs[end++] = r + 1;
		}
	}
	return runs.subarray(0, end);
}
