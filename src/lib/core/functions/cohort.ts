/** Cohorts: what is left of earlier additions, by their age. */

/** What comes after a retention curve's last value: the same, its last step's decay again and again, or nothing. */
export type AfterCurve = 'hold' | 'decay' | 'zero';

/** Retention of each age from 0 to `ages` − 1, as shares. */
export function extendCurve(curve: readonly number[], ages: number, after: AfterCurve): Float64Array {
	const out = new Float64Array(ages);
	const n = curve.length;
	if (!n) return out;
	const last = curve[n - 1];
	const step = n > 1 && curve[n - 2] !== 0 ? last / curve[n - 2] : 1;
	for (let k = 0; k < ages; k++) {
		if (k < n) out[k] = curve[k];
		else if (after === 'hold') out[k] = last;
		else if (after === 'decay') out[k] = out[k - 1] * step;
	}
	return out;
}

/** base(t) = Σk additions(t − k) × retention(k). */
export function cohortBase(additions: readonly number[], retention: ArrayLike<number>, t: number): number {
	let base = 0;
	for (let k = 0; k <= t; k++) base += additions[t - k] * retention[k];
	return base;
}

/** The build-up by cohort: row s, column t is what is left at t of what was added at s. */
export function cohortTriangle(additions: readonly number[], retention: ArrayLike<number>): number[][] {
	return additions.map((added, s) => additions.map((_, t) => (t < s ? 0 : added * retention[t - s])));
}
