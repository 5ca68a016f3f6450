/** Makes parts sum exactly to their total, whatever the order in which they are added. */

/** Binary places kept below the largest number: enough for 15 digits, with room for sums. */
const PLACES = 46;

/**
 * Brings parts and total onto one grid of binary fractions, on which additions are exact, and gives what is left to
 * the largest part. Nothing moves by more than the fourteenth digit of the largest.
 */
export function tie(parts: readonly number[], total: number): { parts: number[]; total: number } {
	const largest = Math.max(Math.abs(total), ...parts.map(Math.abs));
	if (!parts.length || !Number.isFinite(largest) || largest === 0) return { parts: [...parts], total };
	// No grid is finer than the numbers themselves: of the smallest ones, each is a step of its own.
	const grid = Math.max(2 ** (Math.floor(Math.log2(largest)) - PLACES), Number.MIN_VALUE);
	const onGrid = (x: number) => Math.round(x / grid) * grid;
	const whole = onGrid(total);
	const out = parts.map(onGrid);
	const first = out.reduce((best, v, i) => (Math.abs(v) > Math.abs(out[best]) ? i : best), 0);
	out[first] += whole - out.reduce((a, b) => a + b, 0);
	return { parts: out, total: whole };
}
