/**
 * Cohorts: base(t) = Σk additions(t − k) × retention(k), what is left of earlier additions by their age. This is the
 * retention; the engine sums it up.
 */

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
