/** Filling cells from their neighbours. */

/**
 * What follows after some figures: steps of equal size go on, anything else begins again from the first.
 * A single figure is repeated.
 */
export function continued(source: readonly (number | null)[], count: number): (number | null)[] {
	const steps = source.slice(1).map((v, i) => (v === null || source[i] === null ? NaN : v - source[i]));
	const last = source.at(-1) ?? null;
	const even =
		steps.length > 0 && steps.every((s) => Math.abs(s - steps[0]) <= 1e-9 * Math.max(1, Math.abs(s)));
	return Array.from({ length: count }, (_, i) =>
		even && last !== null
			? Number((last + steps[0] * (i + 1)).toPrecision(15))
			: (source[i % source.length] ?? null)
	);
}
