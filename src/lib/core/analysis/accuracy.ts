/** How good past forecasts were. */

export interface Accuracy {
	/** Pairs that have both a forecast and an actual. */
	pairs: number;
	/** Sum of forecast − actual. */
	error: number;
	/** Sum of |forecast − actual|. */
	absoluteError: number;
	/** Absolute error ÷ sum of |actual|; null when that is 0. */
	absoluteShare: number | null;
	/** Error ÷ sum of |actual|: above 0 when forecasts were too high; null when that is 0. */
	bias: number | null;
}

/** Compares forecasts with what happened; pairs with a blank are left out. */
export function accuracy(pairs: readonly { forecast: number | null; actual: number | null }[]): Accuracy {
	let [count, error, absolute, size] = [0, 0, 0, 0];
	for (const { forecast, actual } of pairs) {
		if (forecast === null || actual === null) continue;
		count++;
		error += forecast - actual;
		absolute += Math.abs(forecast - actual);
		size += Math.abs(actual);
	}
	const share = (x: number) => (size === 0 ? null : x / size);
	return {
		pairs: count,
		error,
		absoluteError: absolute,
		absoluteShare: share(absolute),
		bias: share(error)
	};
}
