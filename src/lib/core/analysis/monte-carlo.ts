/** Ranges of a result when drivers are uncertain: many trials, each with drivers drawn by chance. */
import { distributionFault, draw, randomFrom, type Distribution } from './random';

export interface Ranges {
	/** The percentiles asked for, each with one value a period. */
	percentiles: { percentile: number; values: number[] }[];
	mean: number[];
	trials: number;
	/** Trials that gave no number in some period; they are left out there. */
	failed: number;
}

/**
 * @param trial results per period for one draw of all drivers, in their order; the array may be reused
 * @param percentiles from 0 to 100
 * @throws RangeError for a distribution that makes no sense
 */
export function monteCarlo(
	drivers: readonly Distribution[],
	periods: number,
	trial: (drawn: Float64Array) => ArrayLike<number>,
	{ trials, seed, percentiles }: { trials: number; seed: number; percentiles: readonly number[] }
): Ranges {
	drivers.forEach((d, i) => {
		const fault = distributionFault(d);
		if (fault) throw new RangeError(`Driver ${i + 1}: ${fault}`);
	});
	const random = randomFrom(seed);
	const drawn = new Float64Array(drivers.length);
	const results = Array.from({ length: periods }, () => new Float64Array(trials));
	const counts = new Int32Array(periods);
	let failed = 0;
	for (let n = 0; n < trials; n++) {
		for (let d = 0; d < drivers.length; d++) drawn[d] = draw(drivers[d], random);
		const values = trial(drawn);
		let good = true;
		for (let t = 0; t < periods; t++) {
			if (Number.isFinite(values[t])) results[t][counts[t]++] = values[t];
			else good = false;
		}
		if (!good) failed++;
	}
	const sorted = results.map((r, t) => r.subarray(0, counts[t]).sort());
	return {
		percentiles: percentiles.map((percentile) => ({
			percentile,
			values: sorted.map((list) => percentileOf(list, percentile))
		})),
		mean: sorted.map((list) => list.reduce((a, b) => a + b, 0) / list.length),
		trials,
		failed
	};
}

/** A percentile of sorted values, interpolated between neighbours; NaN of none. */
export function percentileOf(sorted: ArrayLike<number>, percentile: number): number {
	if (!sorted.length) return NaN;
	const at = (percentile / 100) * (sorted.length - 1);
	const below = Math.floor(at);
	const above = Math.min(sorted.length - 1, below + 1);
	return sorted[below] + (sorted[above] - sorted[below]) * (at - below);
}
