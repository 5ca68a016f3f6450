/**
 * Spread: turns a total into the cells under it. The new cells sum exactly to the total at the entry precision:
 * each share is rounded down to that precision, and the units left go to the largest remainders, on a tie to the
 * first cell. All of it is done in whole numbers, so that nothing is lost to binary fractions.
 */

export interface SpreadCell {
	/** Null is blank. */
	value: number | null;
	/** Keeps its value; it is taken off the total first. */
	held: boolean;
}

/** What the shares go by: the cells' own values, nothing, or given weights (a shape, a profile), one a cell. */
export type SpreadMethod =
	{ kind: 'proportion' } | { kind: 'evenly' } | { kind: 'weights'; weights: readonly number[] };

export type SpreadResult =
	| { ok: true; values: number[] }
	/** `evenly` says that an even spread would work. */
	| {
			ok: false;
			reason: 'all-held' | 'no-proportion' | 'no-cells' | 'not-a-number';
			message: string;
			evenly: boolean;
	  };

const refuse = (
	reason: (SpreadResult & { ok: false })['reason'],
	message: string,
	evenly = false
): SpreadResult => ({ ok: false, reason, message, evenly });

/**
 * @param total what the cells, held ones included, are to sum to
 * @param decimals entry precision: 2 for cents, 0 for whole pieces
 */
export function spread(
	cells: readonly SpreadCell[],
	total: number,
	method: SpreadMethod,
	decimals: number
): SpreadResult {
	if (!cells.length) return refuse('no-cells', 'There is no cell to spread into.');
	if (!Number.isFinite(total)) return refuse('not-a-number', 'The total is no number.');
	const free = cells.flatMap((c, i) => (c.held ? [] : [i]));
	const held = cells.reduce((sum, c) => sum + (c.held ? (c.value ?? 0) : 0), 0);
	const units = toUnits(total - held, decimals);
	if (!free.length)
		return units === 0n
			? { ok: true, values: cells.map((c) => c.value ?? 0) }
			: refuse(
					'all-held',
					`All cells are held at ${fromUnits(toUnits(held, decimals), decimals)} together. Release one to reach ${total}.`
				);
	const weights = free.map((i) => weightOf(method, cells, i));
	if (!weights.every(Number.isFinite)) return refuse('not-a-number', 'A weight is no number.');
	const shares = divide(units, toIntegers(weights));
	if (!shares)
		return refuse(
			'no-proportion',
			'The cells sum to 0, so there is no proportion to keep. Spread evenly instead?',
			method.kind !== 'evenly'
		);
	// Values that nearly cancel out would be blown up beyond what a number can hold to the cent.
	if (shares.some((s) => (s < 0n ? -s : s) > BigInt(Number.MAX_SAFE_INTEGER) / 8n))
		return refuse(
			'no-proportion',
			'The cells nearly cancel each other out, so there is no sensible proportion to keep. Spread evenly instead?',
			method.kind !== 'evenly'
		);
	const values = cells.map((c) => c.value ?? 0);
	free.forEach((i, k) => (values[i] = fromUnits(shares[k], decimals)));
	return { ok: true, values };
}

function weightOf(method: SpreadMethod, cells: readonly SpreadCell[], i: number): number {
	if (method.kind === 'evenly') return 1;
	return method.kind === 'weights' ? (method.weights[i] ?? 0) : (cells[i].value ?? 0);
}

/** Divides whole units by whole weights; null when the weights sum to 0. */
function divide(units: bigint, given: readonly bigint[]): bigint[] | null {
	const sum = given.reduce((a, b) => a + b, 0n);
	if (sum === 0n) return null;
	const sign = sum < 0n ? -1n : 1n;
	const whole = sum * sign;
	const shares: bigint[] = [];
	const rests: bigint[] = [];
	let left = units;
	for (const w of given) {
		const exact = units * w * sign;
		const down = floorDivide(exact, whole);
		shares.push(down);
		rests.push(exact - down * whole);
		left -= down;
	}
	const order = rests
		.map((_, i) => i)
		.sort((a, b) => (rests[a] === rests[b] ? a - b : rests[a] > rests[b] ? -1 : 1));
	for (let k = 0; k < Number(left); k++) shares[order[k]] += 1n;
	return shares;
}

function floorDivide(a: bigint, b: bigint): bigint {
	const q = a / b;
	return a % b < 0n ? q - 1n : q;
}

/** Whole numbers in the same proportion, exact in the numbers' shortest decimal form. */
function toIntegers(numbers: readonly number[]): bigint[] {
	const parts = numbers.map((x) => {
		const [mantissa, exponent] = x.toExponential().split('e');
		const [whole, fraction = ''] = mantissa.split('.');
		return { digits: BigInt(whole + fraction), power: Number(exponent) - fraction.length };
	});
	const least = Math.min(...parts.map((p) => (p.digits === 0n ? 0 : p.power)));
	return parts.map(({ digits, power }) => (digits === 0n ? 0n : digits * 10n ** BigInt(power - least)));
}

/** A number as whole units of the entry precision, half away from zero. */
export function toUnits(x: number, decimals: number): bigint {
	const [scaled] = toIntegersAt(x, decimals);
	return scaled;
}
function toIntegersAt(x: number, decimals: number): bigint[] {
	// Differences such as 0.3 − 0.1 leave dust behind the fifteenth digit.
	const [mantissa, exponent] = Number(x.toPrecision(15)).toExponential().split('e');
	const [whole, fraction = ''] = mantissa.split('.');
	const digits = BigInt(whole + fraction);
	const power = Number(exponent) - fraction.length + decimals;
	if (power >= 0) return [digits * 10n ** BigInt(power)];
	const by = 10n ** BigInt(-power);
	const magnitude = digits < 0n ? -digits : digits;
	const rounded = (magnitude * 2n + by) / (by * 2n);
	return [digits < 0n ? -rounded : rounded];
}
export function fromUnits(units: bigint, decimals: number): number {
	const sign = units < 0n ? '-' : '';
	const text = String(units < 0n ? -units : units).padStart(decimals + 1, '0');
	const at = text.length - decimals;
	return Number(`${sign}${text.slice(0, at)}.${text.slice(at)}`) + 0;
}

/** A change of what is there: to a new total, up or down by an amount, or by a share (0.05 is 5 %). */
export type Change =
	{ kind: 'to'; total: number } | { kind: 'by'; amount: number } | { kind: 'percent'; share: number };

/** The total that a change leads to. */
export function changedTotal(cells: readonly SpreadCell[], change: Change): number {
	const now = cells.reduce((sum, c) => sum + (c.value ?? 0), 0);
	if (change.kind === 'to') return change.total;
	return change.kind === 'by' ? now + change.amount : now * (1 + change.share);
}

/** Changes cells together, in proportion unless said otherwise; held cells keep their value. */
export function changeCells(
	cells: readonly SpreadCell[],
	change: Change,
	decimals: number,
	method: SpreadMethod = { kind: 'proportion' }
): SpreadResult {
	return spread(cells, changedTotal(cells, change), method, decimals);
}

/** The same over a block of rows × columns: totals of rows and columns follow, the grand total is exact. */
export function spreadBlock(
	block: readonly (readonly SpreadCell[])[],
	total: number,
	method: SpreadMethod,
	decimals: number
): { ok: true; values: number[][] } | (SpreadResult & { ok: false }) {
	const result = spread(block.flat(), total, method, decimals);
	if (!result.ok) return result;
	let next = 0;
	return { ok: true, values: block.map((row) => row.map(() => result.values[next++])) };
}

/** A seasonality profile as weights for a run of periods: one weight for each place in the year, again and again. */
export function profileWeights(profile: readonly number[], firstPlace: number, periods: number): number[] {
	return Array.from({ length: periods }, (_, t) => profile[(firstPlace + t) % profile.length]);
}

/** Parts rounded so that they sum to their rounded total: what is shown adds up (largest remainder). */
export function roundTogether(parts: readonly number[], decimals: number): number[] {
	const scaled = parts.map((v) => Number((v * 10 ** decimals).toPrecision(15)));
	const down = scaled.map(Math.floor);
	const total = Number(scaled.reduce((a, b) => a + b, 0).toPrecision(15));
	let left = Math.round(total) - down.reduce((a, b) => a + b, 0);
	const order = scaled.map((v, i) => ({ i, rest: v - down[i] })).sort((a, b) => b.rest - a.rest || a.i - b.i);
	for (const { i } of order) if (left-- > 0) down[i]++;
	return down.map((units) => units / 10 ** decimals + 0);
}
