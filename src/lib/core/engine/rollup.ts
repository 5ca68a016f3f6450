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

/** Rows that are taken together. */
export interface Groups {
	/** For each row its group, −1 to leave it out. */
	rows: Int32Array;
	groups: number;
}
/** Periods that are taken together. */
export interface Buckets {
	/** For each period index its bucket, −1 to leave it out; buckets in order of time. */
	periods: Int32Array;
	buckets: number;
}
export type Grouping = Groups & Buckets;

/**
 * Rolled-up values, groups × buckets, for every line of a block.
 * `formula` recomputes the line from rolled-up operands: a year's price is its revenue ÷ its units.
 */
export const rollUp = (
	matrixOf: (line: string) => Matrix,
	lines: readonly RollupLine[],
	{ rows, groups, periods, buckets }: Grouping
): Map<string, Matrix> => rollUps(matrixOf, lines, { rows, groups }, [{ periods, buckets }])[0];

/** The same over time in several ways, one after the other: members are taken together only once. */
export function rollUps(
	matrixOf: (line: string) => Matrix,
	lines: readonly RollupLine[],
	members: Groups,
	times: readonly Buckets[]
): Map<string, Matrix>[] {
	const grouped: Grouped = {
		...members,
		runs: runsOf(members.rows),
		single: groupsOfOne(members),
		...placesOf(times)
	};
	const own = lines.map((line) => {
		const expr = totalsBy(line);
		if (expr) return { line, expr };
		const weight = line.members.startsWith(WEIGHTED) ? matrixOf(line.members.slice(WEIGHTED.length)) : null;
		return { line, together: overMembers(matrixOf(line.code), line, weight, grouped) };
	});
	const rows = Array.from({ length: members.groups }, (_, i) => [String(i)]);
	return times.map((time) => {
		const specs = own.map(({ line, expr, together }): LineSpec => ({
			code: line.code,
			additive: true,
			...(expr ? { rules: [{ from: 0, expr }] } : { seed: overTime(together, line, time) })
		}));
		const calculation = new Calculation(bareAxis(time.buckets, 0, 1), [
			{ id: 'rollup', dimensions: ['group'], rows, lines: specs }
		]).calculate();
		return new Map(lines.map((line) => [line.code, calculation.matrix('rollup', line.code)]));
	});
}

function placesOf(times: readonly Buckets[]): Pick<Grouped, 'places' | 'wanted'> {
	let wanted = 0;
	const places = Int32Array.from(times[0]?.periods ?? [], (_, t) =>
		times.some(({ periods }) => periods[t] >= 0) ? wanted++ : -1
	);
	return { places, wanted };
}

/** Groups with what is the same for every line. */
interface Grouped extends Groups {
	runs: Int32Array;
	/** For each group whether it is a single row: that row is what it is, whatever it weighs. */
	single: Uint8Array;
	/** For each period index its place among those that are wanted, or −1. */
	places: Int32Array;
	wanted: number;
}

/** Of a line per wanted period and group: the sum, how many numbers or how much weight are in it, and the error, or 0. */
interface Together {
	groups: number;
	places: Int32Array;
	sum: Float64Array;
	mass: Float64Array;
	error: Uint8Array;
	/** What is summed is weighed, and each period counts by its weight. */
	pooled: boolean;
	/** Members count as their mean. */
	mean: boolean;
}

/**
 * The first of two questions: what several members are in a period. Weighted members of a line that is recomputed over
 * time are pooled: each period counts by its weight.
 */
function overMembers(source: Matrix, line: RollupLine, weight: Matrix | null, g: Grouped): Together {
	const pooled = weight !== null && line.time === 'formula';
	const cells = g.groups * g.wanted;
	const together: Together = {
		groups: g.groups,
		places: g.places,
		sum: new Float64Array(cells),
		mass: new Float64Array(cells),
		error: new Uint8Array(cells),
		pooled,
		mean: !pooled && (weight !== null || line.members === 'average')
	};
	for (let t = 0; t < source.periods; t++) {
		const place = g.places[t] ?? -1;
		if (place < 0) continue;
		const [start, first] = [t * source.rows, place * g.groups];
		if (source.marks === null && weight === null) addPlain(together, source.values, g.runs, start, first);
		else addMarked(together, source, weight, pooled ? null : g.single, g.runs, start, first);
	}
	return together;
}

/** The second: what several periods are, groups × buckets. Nothing is averaged over blanks. */
function overTime(
	{ groups, places, sum, mass, error, pooled, mean }: Together,
	line: RollupLine,
	time: Buckets
): Matrix {
	const { periods, buckets } = time;
	const out = newMatrix(groups, buckets);
	/** Periods that hold a number, per cell; of what is pooled, its weight. */
	const counted = new Float64Array(out.values.length);
	const errors = new Uint8Array(out.values.length);
	const lastOf = new Int32Array(buckets).fill(-1);
	periods.forEach((b, t) => {
		if (b >= 0) lastOf[b] = t;
	});
	for (let t = 0; t < periods.length; t++) {
		const bucket = periods[t];
		if (bucket < 0 || (line.time === 'last' && t !== lastOf[bucket])) continue;
		for (let group = 0; group < groups; group++) {
			const [from, to] = [places[t] * groups + group, bucket * groups + group];
			if (error[from]) errors[to] = error[from];
			if (mass[from] === 0 && !pooled) continue;
			out.values[to] += mean ? sum[from] / mass[from] : sum[from];
			counted[to] += pooled ? mass[from] : 1;
		}
	}
	for (let o = 0; o < errors.length; o++)
		if (errors[o]) {
			marksOf(out)[o] = errors[o];
			out.values[o] = NaN;
			out.errors = true;
		} else if (counted[o] === 0) {
			out.values[o] = 0;
			marksOf(out)[o] = BLANK;
		} else if (pooled || line.time === 'average') out.values[o] /= counted[o];
	return out;
}

/** Adds a period of a line, whose rows begin at `start`, to its groups, which begin at `first`. */
function addPlain(
	{ sum, mass }: Together,
	values: Float64Array,
	runs: Int32Array,
	start: number,
	first: number
): void {
	for (let k = 0; k < runs.length; k += 3) {
		const at = first + runs[k];
		const end = start + runs[k + 2];
		let total = sum[at];
		for (let i = start + runs[k + 1]; i < end; i++) total += values[i];
		sum[at] = total;
		mass[at] += runs[k + 2] - runs[k + 1];
	}
}

/** The same where there are marks or weights: blanks count for nothing, errors are noted. */
function addMarked(
	{ sum, mass, error }: Together,
	{ values, marks }: Matrix,
	weight: Matrix | null,
	single: Uint8Array | null,
	runs: Int32Array,
	start: number,
	first: number
): void {
	for (let k = 0; k < runs.length; k += 3) {
		const at = first + runs[k];
		const end = start + runs[k + 2];
		const weights = single?.[runs[k]] ? null : weight;
		for (let i = start + runs[k + 1]; i < end; i++) {
			if (marks !== null && marks[i] !== NUMBER) {
				if (marks[i] !== BLANK) error[at] = marks[i];
				continue;
			}
			if (weights?.marks && weights.marks[i] > BLANK) error[at] = weights.marks[i];
			const own = weights === null ? 1 : weights.values[i];
			sum[at] += values[i] * own;
			mass[at] += own;
		}
	}
}

function groupsOfOne(g: Groups): Uint8Array {
	const rows = new Uint32Array(g.groups);
	for (const group of g.rows) if (group >= 0) rows[group]++;
	return Uint8Array.from(rows, (n) => (n === 1 ? 1 : 0));
}

/** Neighbouring rows of one group, to be summed without looking anything up for each: its group, first row and end a run. */
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
