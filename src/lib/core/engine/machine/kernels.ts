/**
 * Loops over runs of memory. Each takes views: where an operand starts, how far apart its periods lie
 * (`stride`, 0 where all periods share it), and whether it has a value per row (`step` 1) or one for all (`step` 0).
 * The four operations that carry nearly all the work are written out.
 */
import { ceiling, floor, int, mround, round, roundDown, roundUp } from '../../functions/rounding';
import type { Matrix } from '../values';

export interface View {
	values: Float64Array;
	marks: Uint8Array | null;
	errors: boolean;
	base: number;
	stride: number;
	step: 0 | 1;
	/** The line whose memory this is; null for a register's. */
	owner: Matrix | null;
}

/** Answers whether a result may be an error: a divisor was 0, or something is not finite. */
export type Kernel = (out: View, a: View, b: View, rows: number, periods: number) => boolean;

/** One run of memory: n results from k on, of operands from i and j on. */
type Run = (
	o: Float64Array,
	k: number,
	x: Float64Array,
	i: number,
	y: Float64Array,
	j: number,
	n: number
) => void;
/** The same with one operand for all. */
type ScalarRun = (o: Float64Array, k: number, x: Float64Array, i: number, s: number, n: number) => void;

/** An operation from its runs: both vary, the second is one for all, the first is. */
function arithmetic(
	both: Run,
	right: ScalarRun,
	left: ScalarRun,
	one: (x: number, y: number) => number
): Kernel {
	return (out, a, b, rows, periods) => {
		const o = out.values;
		const x = a.values;
		const y = b.values;
		const n = rows | 0;
		for (let t = 0; t < periods; t++) {
			// Integers to the compiler too, which makes the loops several times as fast.
			const k = (out.base + t * out.stride) | 0;
			const i = (a.base + t * a.stride) | 0;
			const j = (b.base + t * b.stride) | 0;
			if (a.step && b.step) both(o, k, x, i, y, j, n);
			else if (a.step) right(o, k, x, i, y[j], n);
			else if (b.step) left(o, k, y, j, x[i], n);
			else if (out.step) o.fill(one(x[i], y[j]), k, k + n);
			else o[k] = one(x[i], y[j]);
		}
		return false;
	};
}

// Four cells a turn: the processor works on them side by side.
function addBoth(
	o: Float64Array,
	k: number,
	x: Float64Array,
	i: number,
	y: Float64Array,
	j: number,
	n: number
): void {
	let r = 0;
	for (; r < n - 3; r += 4) {
		o[k + r] = x[i + r] + y[j + r];
		o[k + r + 1] = x[i + r + 1] + y[j + r + 1];
		o[k + r + 2] = x[i + r + 2] + y[j + r + 2];
		o[k + r + 3] = x[i + r + 3] + y[j + r + 3];
	}
	for (; r < n; r++) o[k + r] = x[i + r] + y[j + r];
}
function addRight(o: Float64Array, k: number, x: Float64Array, i: number, s: number, n: number): void {
	let r = 0;
	for (; r < n - 3; r += 4) {
		o[k + r] = x[i + r] + s;
		o[k + r + 1] = x[i + r + 1] + s;
		o[k + r + 2] = x[i + r + 2] + s;
		o[k + r + 3] = x[i + r + 3] + s;
	}
	for (; r < n; r++) o[k + r] = x[i + r] + s;
}
function subtractBoth(
	o: Float64Array,
	k: number,
	x: Float64Array,
	i: number,
	y: Float64Array,
	j: number,
	n: number
): void {
	let r = 0;
	for (; r < n - 3; r += 4) {
		o[k + r] = x[i + r] - y[j + r];
		o[k + r + 1] = x[i + r + 1] - y[j + r + 1];
		o[k + r + 2] = x[i + r + 2] - y[j + r + 2];
		o[k + r + 3] = x[i + r + 3] - y[j + r + 3];
	}
	for (; r < n; r++) o[k + r] = x[i + r] - y[j + r];
}
function subtractRight(o: Float64Array, k: number, x: Float64Array, i: number, s: number, n: number): void {
	let r = 0;
	for (; r < n - 3; r += 4) {
		o[k + r] = x[i + r] - s;
		o[k + r + 1] = x[i + r + 1] - s;
		o[k + r + 2] = x[i + r + 2] - s;
		o[k + r + 3] = x[i + r + 3] - s;
	}
	for (; r < n; r++) o[k + r] = x[i + r] - s;
}
function subtractLeft(o: Float64Array, k: number, x: Float64Array, i: number, s: number, n: number): void {
	let r = 0;
	for (; r < n - 3; r += 4) {
		o[k + r] = s - x[i + r];
		o[k + r + 1] = s - x[i + r + 1];
		o[k + r + 2] = s - x[i + r + 2];
		o[k + r + 3] = s - x[i + r + 3];
	}
	for (; r < n; r++) o[k + r] = s - x[i + r];
}
function multiplyBoth(
	o: Float64Array,
	k: number,
	x: Float64Array,
	i: number,
	y: Float64Array,
	j: number,
	n: number
): void {
	let r = 0;
	for (; r < n - 3; r += 4) {
		o[k + r] = x[i + r] * y[j + r];
		o[k + r + 1] = x[i + r + 1] * y[j + r + 1];
		o[k + r + 2] = x[i + r + 2] * y[j + r + 2];
		o[k + r + 3] = x[i + r + 3] * y[j + r + 3];
	}
	for (; r < n; r++) o[k + r] = x[i + r] * y[j + r];
}
function multiplyRight(o: Float64Array, k: number, x: Float64Array, i: number, s: number, n: number): void {
	let r = 0;
	for (; r < n - 3; r += 4) {
		o[k + r] = x[i + r] * s;
		o[k + r + 1] = x[i + r + 1] * s;
		o[k + r + 2] = x[i + r + 2] * s;
		o[k + r + 3] = x[i + r + 3] * s;
	}
	for (; r < n; r++) o[k + r] = x[i + r] * s;
}

/** Whether 0 or something that is not finite is among n divisors; what was divided by it is marked in a second pass. */
function mayFail(y: Float64Array, j: number, n: number): boolean {
	for (let r = 0; r < n; r++) {
		const v = y[j + r];
		if (v === 0 || v - v !== 0) return true;
	}
	return false;
}
function divideBoth(
	o: Float64Array,
	k: number,
	x: Float64Array,
	i: number,
	y: Float64Array,
	j: number,
	n: number
): void {
	let r = 0;
	for (; r < n - 3; r += 4) {
		o[k + r] = x[i + r] / y[j + r];
		o[k + r + 1] = x[i + r + 1] / y[j + r + 1];
		o[k + r + 2] = x[i + r + 2] / y[j + r + 2];
		o[k + r + 3] = x[i + r + 3] / y[j + r + 3];
	}
	for (; r < n; r++) o[k + r] = x[i + r] / y[j + r];
}
function divideRight(o: Float64Array, k: number, x: Float64Array, i: number, s: number, n: number): void {
	let r = 0;
	for (; r < n - 3; r += 4) {
		o[k + r] = x[i + r] / s;
		o[k + r + 1] = x[i + r + 1] / s;
		o[k + r + 2] = x[i + r + 2] / s;
		o[k + r + 3] = x[i + r + 3] / s;
	}
	for (; r < n; r++) o[k + r] = x[i + r] / s;
}
function divideLeft(o: Float64Array, k: number, x: Float64Array, i: number, s: number, n: number): void {
	let r = 0;
	for (; r < n - 3; r += 4) {
		o[k + r] = s / x[i + r];
		o[k + r + 1] = s / x[i + r + 1];
		o[k + r + 2] = s / x[i + r + 2];
		o[k + r + 3] = s / x[i + r + 3];
	}
	for (; r < n; r++) o[k + r] = s / x[i + r];
}

const quotients = arithmetic(divideBoth, divideRight, divideLeft, (x, y) => x / y);

function divide(out: View, a: View, b: View, rows: number, periods: number): boolean {
	quotients(out, a, b, rows, periods);
	for (let t = 0; t < periods; t++)
		if (mayFail(b.values, b.base + t * b.stride, b.step ? rows : 1)) return true;
	return false;
}

/** A kernel from a function of two numbers; for operations that are rarer in models. */
function lift(f: (x: number, y: number) => number): Kernel {
	return (out, a, b, rows, periods) => {
		let bad = false;
		const n = out.step ? rows : 1;
		for (let t = 0; t < periods; t++) {
			const k = out.base + t * out.stride;
			const i = a.base + t * a.stride;
			const j = b.base + t * b.stride;
			for (let r = 0; r < n; r++) {
				const x = a.values[i + r * a.step];
				const y = b.values[j + r * b.step];
				const v = f(x, y);
				if (v - v !== 0 || x - x !== 0 || y - y !== 0) bad = true;
				out.values[k + r] = v;
			}
		}
		return bad;
	};
}

const truth = (b: boolean) => (b ? 1 : 0);

export const BINARY = {
	'+': arithmetic(addBoth, addRight, addRight, (x, y) => x + y),
	'-': arithmetic(subtractBoth, subtractRight, subtractLeft, (x, y) => x - y),
	'*': arithmetic(multiplyBoth, multiplyRight, multiplyRight, (x, y) => x * y),
	'/': divide,
	'^': lift(Math.pow),
	'=': lift((x, y) => truth(x === y)),
	'<>': lift((x, y) => truth(x !== y)),
	'<': lift((x, y) => truth(x < y)),
	'<=': lift((x, y) => truth(x <= y)),
	'>': lift((x, y) => truth(x > y)),
	'>=': lift((x, y) => truth(x >= y)),
	and: lift((x, y) => truth(x !== 0 && y !== 0)),
	or: lift((x, y) => truth(x !== 0 || y !== 0)),
	mod: lift((x, y) => x - y * Math.floor(x / y)),
	round: lift(round),
	roundup: lift(roundUp),
	rounddown: lift(roundDown),
	mround: lift(mround),
	ceiling: lift(ceiling),
	floor: lift(floor),
	not: lift((x) => truth(x === 0)),
	abs: lift((x) => Math.abs(x)),
	sign: lift((x) => Math.sign(x)),
	int: lift(int),
	sqrt: lift((x) => Math.sqrt(x)),
	exp: lift((x) => Math.exp(x)),
	ln: lift((x) => (x > 0 ? Math.log(x) : NaN)),
	log: lift((x, base) => (x > 0 ? (base === 10 ? Math.log10(x) : Math.log(x) / Math.log(base)) : NaN))
} satisfies Record<string, Kernel>;
export type BinaryName = keyof typeof BINARY;

/** Functions of several values that leave blanks out: the running value, one number more, and how many there were. */
export const AGGREGATES = {
	sum: (acc: number, v: number) => acc + v,
	average: (acc: number, v: number) => acc + v,
	min: (acc: number, v: number, n: number) => (n === 0 || v < acc ? v : acc),
	max: (acc: number, v: number, n: number) => (n === 0 || v > acc ? v : acc)
} as const;
export type AggregateName = keyof typeof AGGREGATES;
