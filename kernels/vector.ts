/**
 * Arithmetic over runs of memory, two cells at a time, in AssemblyScript (compiled by `npm run kernels`).
 * Offsets and strides are in bytes: `o` is written, `x` and `y` are read, for `n` rows in each of `periods`.
 * A letter S in place of an operand says that it has one value for each period instead of one for each row.
 */

const ADD = 0;
const SUB = 1;
const MUL = 2;
const DIV = 3;

// @ts-ignore: the operation is known when compiled, so that nothing is left to choose in the loops
@inline
function pair(op: i32, a: v128, b: v128): v128 {
	if (op == ADD) return f64x2.add(a, b);
	if (op == SUB) return f64x2.sub(a, b);
	if (op == MUL) return f64x2.mul(a, b);
	return f64x2.div(a, b);
}
// @ts-ignore: as above
@inline
function single(op: i32, a: f64, b: f64): f64 {
	if (op == ADD) return a + b;
	if (op == SUB) return a - b;
	if (op == MUL) return a * b;
	return a / b;
}

// @ts-ignore: as above
@inline
function both(op: i32, o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		let q = x;
		let r = y;
		const end = o + (((<usize>n) & ~1) << 3);
		for (; p < end; p += 16, q += 16, r += 16) v128.store(p, pair(op, v128.load(q), v128.load(r)));
		if (n & 1) store<f64>(p, single(op, load<f64>(q), load<f64>(r)));
		o += os;
		x += xs;
		y += ys;
	}
}
/** One operand is the same for all rows of a period; `first` says that it is the first one. */
// @ts-ignore: as above
@inline
function one(op: i32, first: bool, o: usize, os: usize, v: usize, vs: usize, s: usize, ss: usize, n: i32, periods: i32): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		let q = v;
		const same = load<f64>(s);
		const twice = f64x2.splat(same);
		const end = o + (((<usize>n) & ~1) << 3);
		for (; p < end; p += 16, q += 16)
			v128.store(p, first ? pair(op, twice, v128.load(q)) : pair(op, v128.load(q), twice));
		if (n & 1) store<f64>(p, first ? single(op, same, load<f64>(q)) : single(op, load<f64>(q), same));
		o += os;
		v += vs;
		s += ss;
	}
}

export function addXY(o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	both(ADD, o, os, x, xs, y, ys, n, periods);
}
export function addXS(o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	one(ADD, false, o, os, x, xs, y, ys, n, periods);
}
export function subXY(o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	both(SUB, o, os, x, xs, y, ys, n, periods);
}
export function subXS(o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	one(SUB, false, o, os, x, xs, y, ys, n, periods);
}
export function subSY(o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	one(SUB, true, o, os, y, ys, x, xs, n, periods);
}
export function mulXY(o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	both(MUL, o, os, x, xs, y, ys, n, periods);
}
export function mulXS(o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	one(MUL, false, o, os, x, xs, y, ys, n, periods);
}
export function divXY(o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	both(DIV, o, os, x, xs, y, ys, n, periods);
}
export function divXS(o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	one(DIV, false, o, os, x, xs, y, ys, n, periods);
}
export function divSY(o: usize, os: usize, x: usize, xs: usize, y: usize, ys: usize, n: i32, periods: i32): void {
	one(DIV, true, o, os, y, ys, x, xs, n, periods);
}

/** Whether 0 or something that is not finite is among the values: what is divided by it is looked at again. */
export function mayFail(y: usize, ys: usize, n: i32, periods: i32): bool {
	const zero = f64x2.splat(0);
	let found = f64x2.splat(0);
	for (let t = 0; t < periods; t++) {
		let r = y;
		const end = y + (((<usize>n) & ~1) << 3);
		for (; r < end; r += 16) {
			const v = v128.load(r);
			found = v128.or(found, v128.or(f64x2.eq(v, zero), f64x2.ne(f64x2.sub(v, v), zero)));
		}
		if (n & 1) {
			const v = load<f64>(r);
			if (v == 0 || v - v != 0) return true;
		}
		y += ys;
	}
	return v128.any_true(found);
}
