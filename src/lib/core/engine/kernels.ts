/**
 * Loops over runs of memory. Each takes views: where an operand starts, how far apart its periods lie
 * (`stride`), and whether it has a value per row (`step` 1) or one for all rows (`step` 0).
 * Arithmetic is written out for the four operations that carry nearly all the work.
 */
export interface View {
	values: Float64Array;
	marks: Uint8Array | null;
	errors: boolean;
	base: number;
	stride: number;
	step: 0 | 1;
	/** Which register's memory this is; −1 for a line's. */
	register: number;
}

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

/** Answers whether some divisor was 0; the marks are then set in a second pass. */
function divide(out: View, a: View, b: View, rows: number, periods: number): boolean {
	const o = out.values;
	const x = a.values;
	const y = b.values;
	let zero = false;
	for (let t = 0; t < periods; t++) {
		const k = out.base + t * out.stride;
		const i = a.base + t * a.stride;
		const j = b.base + t * b.stride;
		const n = out.step ? rows : 1;
		const sa = a.step;
		const sb = b.step;
		if (sa && sb)
			for (let r = 0; r < n; r++) {
				const d = y[j + r];
				if (d === 0) zero = true;
				o[k + r] = x[i + r] / d;
			}
		else {
			for (let r = 0; r < n; r++) {
				const d = y[j + r * sb];
				if (d === 0) zero = true;
				o[k + r] = x[i + r * sa] / d;
			}
		}
	}
	return zero;
}

/** A kernel from a function of two numbers; for operations that are rare in models. Answers whether some result is not finite. */
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
				if (!Number.isFinite(v)) bad = true;
				out.values[k + r] = v;
			}
		}
		return bad;
	};
}

const truth = (b: boolean) => (b ? 1 : 0);

/** OpenFormula's rounding: half away from zero, on the shortest decimal form so that 1.005 rounds to 1.01. */
function roundBy(mode: 'half' | 'up' | 'down', x: number, digits: number): number {
	const d = Math.trunc(digits);
	const shift = (v: number, by: number) => {
		const [m, e] = String(v).split('e');
		return Number(`${m}e${Number(e ?? 0) + by}`);
	};
	const scaled = shift(Math.abs(x), d);
	const whole = mode === 'half' ? Math.round(scaled) : mode === 'up' ? Math.ceil(scaled) : Math.floor(scaled);
	return Math.sign(x) * shift(whole, -d);
}

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
	min: lift(Math.min),
	max: lift(Math.max),
	and: lift((x, y) => truth(x !== 0 && y !== 0)),
	or: lift((x, y) => truth(x !== 0 || y !== 0)),
	mod: lift((x, y) => x - y * Math.floor(x / y)),
	round: lift((x, y) => roundBy('half', x, y)),
	roundup: lift((x, y) => roundBy('up', x, y)),
	rounddown: lift((x, y) => roundBy('down', x, y)),
	not: lift((x) => truth(x === 0)),
	abs: lift((x) => Math.abs(x)),
	int: lift((x) => Math.floor(x)),
	sqrt: lift((x) => Math.sqrt(x)),
	exp: lift((x) => Math.exp(x)),
	ln: lift((x) => Math.log(x))
} satisfies Record<string, Kernel>;

export type BinaryName = keyof typeof BINARY;
