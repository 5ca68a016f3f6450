/**
 * Arithmetic over runs of memory, two cells at a time, in AssemblyScript (compiled by `npm run kernels`).
 * Offsets and strides are in bytes: `o` is written, `x` and `y` are read, for `n` rows in each of `periods`.
 * A letter S in place of an operand says that it has one value for each period instead of one for each row.
 */

export function addXY(
	o: usize,
	os: usize,
	x: usize,
	xs: usize,
	y: usize,
	ys: usize,
	n: i32,
	periods: i32
): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		const end = o + (((<usize>n) & ~1) << 3);
		let q = x;
		let r = y;
		for (; p < end; p += 16, q += 16, r += 16) v128.store(p, f64x2.add(v128.load(q), v128.load(r)));
		if (n & 1) store<f64>(p, load<f64>(q) + load<f64>(r));
		o += os;
		x += xs;
		y += ys;
	}
}

export function addXS(
	o: usize,
	os: usize,
	x: usize,
	xs: usize,
	y: usize,
	ys: usize,
	n: i32,
	periods: i32
): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		const end = o + (((<usize>n) & ~1) << 3);
		let q = x;
		const s = f64x2.splat(load<f64>(y));
		for (; p < end; p += 16, q += 16) v128.store(p, f64x2.add(v128.load(q), s));
		if (n & 1) store<f64>(p, load<f64>(q) + load<f64>(y));
		o += os;
		x += xs;
		y += ys;
	}
}

export function subXY(
	o: usize,
	os: usize,
	x: usize,
	xs: usize,
	y: usize,
	ys: usize,
	n: i32,
	periods: i32
): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		const end = o + (((<usize>n) & ~1) << 3);
		let q = x;
		let r = y;
		for (; p < end; p += 16, q += 16, r += 16) v128.store(p, f64x2.sub(v128.load(q), v128.load(r)));
		if (n & 1) store<f64>(p, load<f64>(q) - load<f64>(r));
		o += os;
		x += xs;
		y += ys;
	}
}

export function subXS(
	o: usize,
	os: usize,
	x: usize,
	xs: usize,
	y: usize,
	ys: usize,
	n: i32,
	periods: i32
): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		const end = o + (((<usize>n) & ~1) << 3);
		let q = x;
		const s = f64x2.splat(load<f64>(y));
		for (; p < end; p += 16, q += 16) v128.store(p, f64x2.sub(v128.load(q), s));
		if (n & 1) store<f64>(p, load<f64>(q) - load<f64>(y));
		o += os;
		x += xs;
		y += ys;
	}
}

export function subSY(
	o: usize,
	os: usize,
	x: usize,
	xs: usize,
	y: usize,
	ys: usize,
	n: i32,
	periods: i32
): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		const end = o + (((<usize>n) & ~1) << 3);
		let r = y;
		const s = f64x2.splat(load<f64>(x));
		for (; p < end; p += 16, r += 16) v128.store(p, f64x2.sub(s, v128.load(r)));
		if (n & 1) store<f64>(p, load<f64>(x) - load<f64>(r));
		o += os;
		x += xs;
		y += ys;
	}
}

export function mulXY(
	o: usize,
	os: usize,
	x: usize,
	xs: usize,
	y: usize,
	ys: usize,
	n: i32,
	periods: i32
): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		const end = o + (((<usize>n) & ~1) << 3);
		let q = x;
		let r = y;
		for (; p < end; p += 16, q += 16, r += 16) v128.store(p, f64x2.mul(v128.load(q), v128.load(r)));
		if (n & 1) store<f64>(p, load<f64>(q) * load<f64>(r));
		o += os;
		x += xs;
		y += ys;
	}
}

export function mulXS(
	o: usize,
	os: usize,
	x: usize,
	xs: usize,
	y: usize,
	ys: usize,
	n: i32,
	periods: i32
): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		const end = o + (((<usize>n) & ~1) << 3);
		let q = x;
		const s = f64x2.splat(load<f64>(y));
		for (; p < end; p += 16, q += 16) v128.store(p, f64x2.mul(v128.load(q), s));
		if (n & 1) store<f64>(p, load<f64>(q) * load<f64>(y));
		o += os;
		x += xs;
		y += ys;
	}
}

export function divXY(
	o: usize,
	os: usize,
	x: usize,
	xs: usize,
	y: usize,
	ys: usize,
	n: i32,
	periods: i32
): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		const end = o + (((<usize>n) & ~1) << 3);
		let q = x;
		let r = y;
		for (; p < end; p += 16, q += 16, r += 16) v128.store(p, f64x2.div(v128.load(q), v128.load(r)));
		if (n & 1) store<f64>(p, load<f64>(q) / load<f64>(r));
		o += os;
		x += xs;
		y += ys;
	}
}

export function divXS(
	o: usize,
	os: usize,
	x: usize,
	xs: usize,
	y: usize,
	ys: usize,
	n: i32,
	periods: i32
): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		const end = o + (((<usize>n) & ~1) << 3);
		let q = x;
		const s = f64x2.splat(load<f64>(y));
		for (; p < end; p += 16, q += 16) v128.store(p, f64x2.div(v128.load(q), s));
		if (n & 1) store<f64>(p, load<f64>(q) / load<f64>(y));
		o += os;
		x += xs;
		y += ys;
	}
}

export function divSY(
	o: usize,
	os: usize,
	x: usize,
	xs: usize,
	y: usize,
	ys: usize,
	n: i32,
	periods: i32
): void {
	for (let t = 0; t < periods; t++) {
		let p = o;
		const end = o + (((<usize>n) & ~1) << 3);
		let r = y;
		const s = f64x2.splat(load<f64>(x));
		for (; p < end; p += 16, r += 16) v128.store(p, f64x2.div(s, v128.load(r)));
		if (n & 1) store<f64>(p, load<f64>(x) / load<f64>(r));
		o += os;
		x += xs;
		y += ys;
	}
}

/** Whether 0 or something that is not finite is among the values: what is divided by it is looked at again. */
export function hasZero(y: usize, ys: usize, n: i32, periods: i32): bool {
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
