/** Sensitivity of one result to several drivers, each moved alone: a tornado. */

export interface Sensitivity {
	driver: number;
	low: number;
	high: number;
	/** Distance between the two results. */
	range: number;
}

/**
 * @param drivers the low and the high value of each
 * @param evaluate the result with one driver at a value and all others as they are; null for all as they are
 * @returns the result as it is, and the drivers by their range, largest first
 */
export function sensitivity(
	drivers: readonly { low: number; high: number }[],
	evaluate: (move: { driver: number; value: number } | null) => number
): { base: number; drivers: Sensitivity[] } {
	const base = evaluate(null);
	const rows = drivers.map((d, driver) => {
		const low = evaluate({ driver, value: d.low });
		const high = evaluate({ driver, value: d.high });
		return { driver, low, high, range: Math.abs(high - low) };
	});
	// One that gives no number stands last.
	const size = (s: Sensitivity) => (Number.isFinite(s.range) ? s.range : -1);
	return { base, drivers: rows.sort((a, b) => size(b) - size(a) || a.driver - b.driver) };
}
