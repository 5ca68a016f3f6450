/**
 * Loops over runs of memory. Each takes views: where an operand starts, how far apart its periods lie
 * (`stride`, 0 where all periods share it), and whether it has a value per row (`step` 1) or one for all (`step` 0).
 * The four operations that carry nearly all the work are written out.
 */
import { ceiling, floor, mround, round, roundDown, roundUp } from '../functions/rounding';
import type { Matrix } from './values';

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

function add(out: View, a: View, b: View, rows: number, periods: number): boolean {
	const o = out.values;
	const x = a.values;
	const y = b.values;
	for (let t = 0; t < periods; t++) {
		const k = out.base + t * out.stride;
		const i = a.base + t * a.stride;
		const j = b.base + t * b.stride;
		if (a.step && b.step) for (let r = 0; r < rows; r++) o[k + r] = x[i + r] + y[j + r];
		else if (a.step) for (let r = 0, s = y[j]; r < rows; r++) o[k + r] = x[i + r] + s;
		else if (b.step) for (let r = 0, s = x[i]; r < rows; r++) o[k + r] = s + y[j + r];
		else o.fill(x[i] + y[j], k, k + (out.step ? rows : 1));
	}
	return false;
}

function subtract(out: View, a: View, b: View, rows: number, periods: number): boolean {
	const o = out.values;
	const x = a.values;
	const y = b.values;
	for (let t = 0; t < periods; t++) {
		const k = out.base + t * out.stride;
		const i = a.base + t * a.stride;
		const j = b.base + t * b.stride;
		if (a.step && b.step) for (let r = 0; r < rows; r++) o[k + r] = x[i + r] - y[j + r];
		else if (a.step) for (let r = 0, s = y[j]; r < rows; r++) o[k + r] = x[i + r] - s;
		else if (b.step) for (let r = 0, s = x[i]; r < rows; r++) o[k + r] = s - y[j + r];
		else o.fill(x[i] - y[j], k, k + (out.step ? rows : 1));
	}
	return false;
}

function multiply(out: View, a: View, b: View, rows: number, periods: number): boolean {
	const o = out.values;
	const x = a.values;
	const y = b.values;
	for (let t = 0; t < periods; t++) {
		const k = out.base + t * out.stride;
		const i = a.base + t * a.stride;
		const j = b.base + t * b.stride;
		if (a.step && b.step) for (let r = 0; r < rows; r++) o[k + r] = x[i + r] * y[j + r];
		else if (a.step) for (let r = 0, s = y[j]; r < rows; r++) o[k + r] = x[i + r] * s;
		else if (b.step) for (let r = 0, s = x[i]; r < rows; r++) o[k + r] = s * y[j + r];
		else o.fill(x[i] * y[j], k, k + (out.step ? rows : 1));
	}
	return false;
}

/** The marks of what was divided by 0 are set in a second pass. */
function divide(out: View, a: View, b: View, rows: number, periods: number): boolean {
	const o = out.values;
	const x = a.values;
	const y = b.values;
	let zero = false;
	for (let t = 0; t < periods; t++) {
		const k = out.base + t * out.stride;
		const i = a.base + t * a.stride;
		const j = b.base + t * b.stride;
		if (a.step && b.step)
			for (let r = 0; r < rows; r++) {
				const d = y[j + r];
				if (d === 0) zero = true;
				o[k + r] = x[i + r] / d;
			}
		else if (a.step) {
			const d = y[j];
			if (d === 0) zero = true;
			for (let r = 0; r < rows; r++) o[k + r] = x[i + r] / d;
		} else if (b.step) {
			const n = x[i];
			for (let r = 0; r < rows; r++) {
				const d = y[j + r];
				if (d === 0) zero = true;
				o[k + r] = n / d;
			}
		} else {
			if (y[j] === 0) zero = true;
			o.fill(x[i] / y[j], k, k + (out.step ? rows : 1));
		}
	}
	return zero;
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
				const v = f(a.values[i + r * a.step], b.values[j + r * b.step]);
				if (v - v !== 0) bad = true;
				out.values[k + r] = v;
			}
		}
		return bad;
	};
}

const truth = (b: boolean) => (b ? 1 : 0);

export const BINARY = {
	'+': add,
	'-': subtract,
	'*': multiply,
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
	int: lift((x) => Math.floor(x)),
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
