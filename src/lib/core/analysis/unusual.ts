/** Finds ledger entries that look mis-keyed: far from the usual size on their ledger account. */

export interface Usual {
	/** Amounts between which nearly all earlier entries lie. */
	low: number;
	high: number;
}

/** How many robust standard deviations (of the logarithm of the size) count as far; plus a factor of at least FACTOR. */
const DEVIATIONS = 5;
const FACTOR = 5;
const FEWEST = 8;

/**
 * The usual size of entries, from those of the account's history (amounts, sign ignored).
 * Works on logarithms with median and median absolute deviation, so that one wrong entry does not
 * hide itself. Null where there is too little history to say.
 */
export function usualSize(amounts: readonly number[]): Usual | null {
	const logs = Float64Array.from(amounts, (a) => Math.log(Math.abs(a))).filter(Number.isFinite);
	if (logs.length < FEWEST) return null;
	const middle = median(logs);
	const spread = 1.4826 * median(logs.map((l) => Math.abs(l - middle)));
	const reach = Math.max(DEVIATIONS * spread, Math.log(FACTOR));
	return { low: Math.exp(middle - reach), high: Math.exp(middle + reach) };
}

/** Whether an amount is far above the usual size. Small amounts are everyday and not remarked. */
export function isUnusual(amount: number, usual: Usual | null): boolean {
	return usual !== null && Math.abs(amount) > usual.high;
}

function median(values: Float64Array): number {
	const sorted = values.toSorted();
	const m = sorted.length >> 1;
	return sorted.length % 2 ? sorted[m] : (sorted[m - 1] + sorted[m]) / 2;
}
