/** Actual against something else. */
import type { Cell } from '../engine/values';
import { senseOf } from '../company/sign';
import type { AccountType } from '../company/schema';

export type Verdict = 'favourable' | 'unfavourable' | 'neutral';

export interface Variance {
	a: Cell;
	b: Cell;
	/** a − b in natural amounts; null when both are blank, an error's text when either is an error. */
	difference: Cell;
	/** difference ÷ |b| as a share; null (shown n/m) when b is 0 or blank. */
	percent: number | null;
	verdict: Verdict;
}

/** Sums of natural amounts carry noise far below a cent; a difference under this is none. */
const NOISE = 1e-6;

/** Difference of a against b, with the sense of the account's type. Blank reads as 0 beside a number. */
export function variance(a: Cell, b: Cell, type: AccountType): Variance {
	const error = typeof a === 'string' ? a : typeof b === 'string' ? b : null;
	if (error !== null) return { a, b, difference: error, percent: null, verdict: 'neutral' };
	if (a === null && b === null) return { a, b, difference: null, percent: null, verdict: 'neutral' };
	const base = (b as number | null) ?? 0;
	const difference = ((a as number | null) ?? 0) - base;
	const sense = type === 'equity' ? 0 : senseOf(type);
	const verdict: Verdict =
		Math.abs(difference) < NOISE || sense === 0
			? 'neutral'
			: Math.sign(difference) === sense
				? 'favourable'
				: 'unfavourable';
	return { a, b, difference, percent: base === 0 ? null : difference / Math.abs(base), verdict };
}

/** What of a difference comes of exchange rates alone, and what is left: both in reporting currency. */
export interface CurrencySplit {
	currency: Cell;
	performance: Cell;
}

/**
 * @param a at its own rates
 * @param aAtRatesOfB the same amounts at the rates of what it is compared with
 * @returns currency = a − a at the other rates, performance = that − b; together the difference
 */
export function currencySplit(a: Cell, aAtRatesOfB: Cell, b: Cell): CurrencySplit {
	const error = [a, aAtRatesOfB, b].find((cell) => typeof cell === 'string');
	if (error !== undefined) return { currency: error, performance: error };
	if (a === null && b === null) return { currency: null, performance: null };
	const [own, other, base] = [a, aAtRatesOfB, b].map((cell) => (cell as number | null) ?? 0);
	return { currency: own - other, performance: other - base };
}

export interface Threshold {
	/** Money, in the company's currency. */
	amount: number;
	/** Share: 0.05 is 5 %. */
	percent: number;
}

/** Whether a variance matters: at least the amount, and at least the share (any share where there was nothing before). */
export function matters(v: Variance, threshold: Threshold): boolean {
	if (typeof v.difference !== 'number') return typeof v.difference === 'string';
	if (Math.abs(v.difference) < NOISE || Math.abs(v.difference) < threshold.amount) return false;
	return v.percent === null || Math.abs(v.percent) >= threshold.percent;
}
