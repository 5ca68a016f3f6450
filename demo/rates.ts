/** Euro rates of the demo company: those that the market had and is thought to have, and those that budgets were made with. */
import type { CurrencyRates, RateSet } from '../src/lib/core/currency/rates';

/** The month before the ledger begins: March 2024. */
const FIRST = 2024 * 12 + 2;
const OCT26 = 2026 * 12 + 9;
const LAST = 2028 * 12 + 2;
const APR26 = 2026 * 12 + 3;
const months = Array.from({ length: LAST - FIRST + 1 }, (_, i) => FIRST + i);

const four = (rate: number) => Math.round(rate * 10_000) / 10_000;
/** Pounds for one euro on average over a month: it has wandered, and is thought to stay where it was last. */
export function average(period: number): number {
	const p = Math.min(period, OCT26) - FIRST;
	return four(0.852 + 0.011 * Math.sin(p / 3.1) + 0.0006 * p);
}
/** On the last day of a month: between its own mean and the next. */
const closing = (period: number) => four((average(period) + average(period + 1)) / 2);

const euro = (of: { average: (p: number) => number; closing: (p: number) => number }): CurrencyRates[] => [
	{
		currency: 'EUR',
		average: { first: FIRST, values: Float64Array.from(months, of.average) },
		closing: { first: FIRST, values: Float64Array.from(months, of.closing) }
	}
];

/** What budgets count with from April 2026 on; before it, what was. */
const BUDGET = 0.84;
const budgeted = (market: (p: number) => number) => (p: number) => (p < APR26 ? market(p) : BUDGET);

export const rateSets: RateSet[] = [
	{ code: 'current', name: 'Current rates', actuals: true, rates: euro({ average, closing }) },
	{
		code: 'budget',
		name: 'Budget rates',
		actuals: false,
		rates: euro({ average: budgeted(average), closing: budgeted(closing) })
	}
];
/** In euro, what is about so many pounds; whole, as plans are typed. */
export const inEuro = (pounds: number) => Math.round(pounds / BUDGET);
