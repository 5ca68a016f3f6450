/** What a project is worth: present value, return and payback of its cash. */

/**
 * Σ cash(t) ÷ (1 + rate)^t; `cash[0]` is now.
 * @param perYear periods in a year, so that 12 takes months
 */
export function presentValue(cash: readonly number[], rate: number, perYear = 1): number {
	return cash.reduce((sum, amount, t) => sum + amount / (1 + rate) ** (t / perYear), 0);
}

/** (benefits − cost) ÷ cost; null without cost. */
export function returnOnInvestment(benefits: number, cost: number): number | null {
	return cost === 0 ? null : (benefits - cost) / cost;
}

/** Periods until cumulative cash is no longer negative, interpolated within the period; null when it never is. */
export function payback(cash: readonly number[]): number | null {
	let sum = 0;
	for (let t = 0; t < cash.length; t++) {
		const before = sum;
		sum += cash[t];
		if (sum >= 0 && t === 0) return 0;
		if (sum >= 0 && before < 0) return t - 1 + -before / cash[t];
	}
	return null;
}
