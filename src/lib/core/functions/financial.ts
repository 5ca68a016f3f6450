/**
 * Financial functions as in OpenFormula (OASIS ODF part 4, section 6.12): money received is positive, money paid
 * negative; `due` is 0 for payments at the end of each period and 1 for its beginning. NaN stands for #NUM!.
 */

/** Growth of 1 over n periods, and the sum of growths of a payment of 1 in each. */
function growth(rate: number, n: number, due: number): [one: number, payments: number] {
	if (rate === 0) return [1, n];
	// Exact also for rates near 0.
	const grown = rate > -1 ? Math.expm1(n * Math.log1p(rate)) : (1 + rate) ** n - 1;
	return [grown + 1, ((1 + (due ? rate : 0)) * grown) / rate];
}

/** Payment per period of an annuity. */
export function pmt(rate: number, periods: number, present: number, future = 0, due = 0): number {
	const [one, payments] = growth(rate, periods, due);
	return payments === 0 ? NaN : -(present * one + future) / payments;
}
/** Future value of an annuity. */
export function fv(rate: number, periods: number, payment: number, present = 0, due = 0): number {
	const [one, payments] = growth(rate, periods, due);
	return -(present * one + payment * payments);
}
/** Present value of an annuity. */
export function pv(rate: number, periods: number, payment: number, future = 0, due = 0): number {
	const [one, payments] = growth(rate, periods, due);
	return -(future + payment * payments) / one;
}
/** Interest part of the payment of one period (1 to periods). */
export function ipmt(
	rate: number,
	period: number,
	periods: number,
	present: number,
	future = 0,
	due = 0
): number {
	if (period < 1 || period > periods) return NaN;
	const payment = pmt(rate, periods, present, future, due);
	// Paid at the beginning, the first payment is all repayment.
	if (due && period === 1) return 0;
	const owed = fv(rate, period - 1, payment, present, due);
	return due ? (owed * rate) / (1 + rate) : owed * rate;
}
/** Repayment part of the payment of one period (1 to periods). */
export function ppmt(
	rate: number,
	period: number,
	periods: number,
	present: number,
	future = 0,
	due = 0
): number {
	return pmt(rate, periods, present, future, due) - ipmt(rate, period, periods, present, future, due);
}
/** Number of periods of an annuity. */
export function nper(rate: number, payment: number, present: number, future = 0, due = 0): number {
	if (rate === 0) return payment === 0 ? NaN : -(present + future) / payment;
	const paid = payment * (1 + (due ? rate : 0));
	const ratio = (paid - future * rate) / (paid + present * rate);
	return ratio > 0 && rate > -1 ? Math.log(ratio) / Math.log1p(rate) : NaN;
}
/** Rate per period of an annuity. */
export function rate(
	periods: number,
	payment: number,
	present: number,
	future = 0,
	due = 0,
	guess = 0.1
): number {
	if (periods <= 0) return NaN;
	return solveRate((r) => {
		const [one, payments] = growth(r, periods, due);
		return present * one + payment * payments + future;
	}, guess);
}

/** Present value of amounts, the first one period from now. */
export function npv(rate: number, amounts: readonly number[]): number {
	if (rate === -1) return Infinity;
	let sum = 0;
	for (let i = amounts.length - 1; i >= 0; i--) sum = (sum + amounts[i]) / (1 + rate);
	return sum;
}
/** Rate at which amounts, one a period, have the present value 0; it needs amounts of both signs. */
export function irr(amounts: readonly number[], guess = 0.1): number {
	if (!bothSigns(amounts)) return NaN;
	return solveRate((r) => amounts.reduceRight((sum, a) => sum / (1 + r) + a, 0), guess);
}
/** Present value of dated amounts at the first date, by actual days ÷ 365. */
export function xnpv(rate: number, amounts: readonly number[], dates: readonly number[]): number {
	if (amounts.length !== dates.length || !amounts.length || rate <= -1) return NaN;
	if (dates.some((d) => d < dates[0])) return NaN;
	return amounts.reduce((sum, a, i) => sum + a / (1 + rate) ** ((dates[i] - dates[0]) / 365), 0);
}
/** Yearly rate at which dated amounts have the present value 0. */
export function xirr(amounts: readonly number[], dates: readonly number[], guess = 0.1): number {
	if (!bothSigns(amounts) || dates.some((d) => d < dates[0])) return NaN;
	return solveRate((r) => xnpv(r, amounts, dates), guess);
}

const bothSigns = (amounts: readonly number[]) => amounts.some((a) => a > 0) && amounts.some((a) => a < 0);

/**
 * A root above −1, by Newton's method from a guess; where that strays, by halving a bracket found outwards from
 * the guess. NaN when there is none to be found.
 */
function solveRate(f: (rate: number) => number, guess: number): number {
	const scale = Math.abs(f(0)) || 1;
	const isRoot = (y: number) => Math.abs(y) <= 1e-9 * Math.max(1, scale);
	let r = guess;
	for (let i = 0; i < 60; i++) {
		const y = f(r);
		const h = 1e-6 * Math.max(1, Math.abs(r));
		const slope = (f(r + h) - f(r - h)) / (2 * h);
		const next = r - y / slope;
		// Close to −1 everything becomes small; a root there is looked for by halving.
		if (!Number.isFinite(next) || next <= -0.9) break;
		if (Math.abs(next - r) <= 1e-13 * Math.max(1, Math.abs(next)) && isRoot(f(next))) return next;
		r = next;
	}
	if (Number.isFinite(r) && r > -1 && isRoot(f(r))) return r;
	return halve(f, guess);
}

function halve(f: (rate: number) => number, guess: number): number {
	const marks = [
		-0.999999, -0.99, -0.9, -0.7, -0.5, -0.3, -0.1, -0.01, 0, 0.01, 0.05, 0.1, 0.3, 1, 3, 10, 100, 1000
	];
	const spans = marks
		.slice(1)
		.map((high, i): [number, number] => [marks[i], high])
		.filter(([a, b]) => f(a) * f(b) <= 0)
		.sort((x, y) => Math.abs(x[0] - guess) - Math.abs(y[0] - guess));
	if (!spans.length) return NaN;
	let [low, high] = spans[0];
	let below = f(low);
	for (let i = 0; i < 200 && high - low > 1e-15 * Math.max(1, Math.abs(low)); i++) {
		const middle = (low + high) / 2;
		const y = f(middle);
		if (y * below <= 0) high = middle;
		else {
			low = middle;
			below = y;
		}
	}
	return (low + high) / 2;
}
