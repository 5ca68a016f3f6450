/** Instalments of a contract: what of its cost is paid when. */
import { monthsFrom, overTerms, termsFrom } from './active';

/** How often an instalment is paid: once a term, or each so many months. */
export const PAID = { once: null, monthly: 1, quarterly: 3, yearly: 12 } as const;
export type Paid = keyof typeof PAID;
/** At the first day that an instalment covers, or at the last. */
export const DUE = ['in advance', 'in arrears'] as const;
export type Due = (typeof DUE)[number];

/** A contract by its days (serial numbers). */
export interface Contract {
	start: number;
	/** Of the first term. */
	end: number;
	/** A share: what each renewal costs more. */
	uplift: number;
	/** The last day that counts; Infinity where it is renewed on and on. */
	last: number;
}

/**
 * What instalments that fall due between two days pay for, in periods of the first term's cost. Each pays for the days that it
 * covers, at the price of its term; the last one of a contract that ends early for those up to its end. So over the life of a
 * contract as much is paid as it costs.
 * @param covered how many periods lie between two days, parts of them by days
 */
export function instalmentsDue(
	{ start, end, uplift, last }: Contract,
	paid: Paid,
	due: Due,
	firstDay: number,
	lastDay: number,
	covered: (from: number, to: number) => number
): number {
	const terms = termsFrom(start, end);
	if (!terms) return 0;
	const months = PAID[paid];
	return overTerms(terms, uplift, last, firstDay, lastDay, (begin, ends, price) => {
		const startOf = months === null ? (n: number) => (n ? Infinity : begin) : monthsFrom(begin, months);
		let periods = 0;
		for (let n = months === null ? 0 : instalmentBefore(begin, firstDay, months); ; n++) {
			const from = startOf(n);
			if (from > ends || from > lastDay) break;
			const to = Math.min(ends, startOf(n + 1) - 1);
			const day = due === 'in advance' ? from : to;
			if (day >= firstDay && day <= lastDay) periods += covered(from, to);
		}
		return price * periods;
	});
}

/** Days of the longest month. */
const LONGEST = 31;
const instalmentBefore = (begin: number, day: number, months: number): number =>
	Math.max(0, Math.floor((day - begin) / (LONGEST * months)) - 1);
