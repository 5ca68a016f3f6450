/**
 * Rounding as in OpenFormula (OASIS ODF part 4, section 6.17). It works on decimals of 15 significant digits, so that
 * 1.005 rounds to 1.01 although its binary form lies a little below, and 3.3 ÷ 3 × 10 is the whole number 11.
 */

/** A number without what binary fractions leave over; whole numbers stay as they are. */
const decimal = (x: number) => (Number.isInteger(x) ? x : Number(x.toPrecision(15)));

/** Moves the decimal point; exact where the result can be written in decimals. */
function shift(value: number, places: number): number {
	const [mantissa, exponent] = String(decimal(value)).split('e');
	return Number(`${mantissa}e${Number(exponent ?? 0) + places}`);
}

function roundBy(whole: (x: number) => number, value: number, digits: number): number {
	const places = Math.trunc(digits);
	if (Math.abs(places) > 300 || !Number.isFinite(value)) return places > 0 ? value : 0;
	return Math.sign(value) * shift(whole(shift(Math.abs(value), places)), -places);
}

/** Half away from zero. */
export const round = (x: number, digits = 0) => roundBy(Math.round, x, digits);
/** Away from zero. */
export const roundUp = (x: number, digits = 0) => roundBy(Math.ceil, x, digits);
/** Towards zero. */
export const roundDown = (x: number, digits = 0) => roundBy(Math.floor, x, digits);

/** Down to a whole number. */
export const int = (x: number) => Math.floor(decimal(x));

/** x ÷ step: 0.3 ÷ 0.1 is 3. */
const steps = (x: number, step: number) => decimal(x / step);

/** Up to a multiple of the step; 0 for a step of 0. */
export function ceiling(x: number, step = 1): number {
	return step === 0 || x === 0 ? 0 : fromSteps(Math.ceil(steps(x, Math.abs(step))), Math.abs(step));
}
/** Down to a multiple of the step; 0 for a step of 0. */
export function floor(x: number, step = 1): number {
	return step === 0 || x === 0 ? 0 : fromSteps(Math.floor(steps(x, Math.abs(step))), Math.abs(step));
}
/** To the nearest multiple, half away from zero. NaN (#NUM!) when the signs differ. */
export function mround(x: number, multiple: number): number {
	if (x === 0 || multiple === 0) return 0;
	if (Math.sign(x) !== Math.sign(multiple)) return NaN;
	return fromSteps(Math.round(steps(x, multiple)), multiple);
}
const fromSteps = (n: number, step: number) => decimal(n * step) + 0;
