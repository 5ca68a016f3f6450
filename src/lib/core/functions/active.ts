/** Active share: which part of a period lies between two days. */
import { edate } from './dates';
import { fromSerial, monthNumber } from '../calendar/dates';

/**
 * Share of a period's days on which start ≤ day ≤ end.
 * @param start,end serial numbers; ±Infinity where there is none
 * @param daysBetween days from one serial number to another, both included, by the calendar's count
 * @returns a share from 0 to 1
 */
export function activeShare(
	start: number,
	end: number,
	firstDay: number,
	lastDay: number,
	daysBetween: (from: number, to: number) => number
): number {
	const from = Math.max(start, firstDay);
	const to = Math.min(end, lastDay);
	if (from > to) return 0;
	if (from === firstDay && to === lastDay) return 1;
	return daysBetween(from, to) / daysBetween(firstDay, lastDay);
}

/** Most renewals that are followed; a term of one day is renewed for over a hundred years. */
const MOST_RENEWALS = 50_000;

/** A term that is renewed as soon as it ends. */
export interface Terms {
	/** The first day of its k-th renewal; 0 is the term itself. */
	startOf(k: number): number;
	/** The renewal before any that touches a day, or an earlier one. */
	before(day: number): number;
}

/**
 * Terms of whole months are renewed by months, others by days; null for a term that has no end, or ends before it starts. Asked for
 * each period anew, so they are kept.
 */
export function termsFrom(start: number, end: number): Terms | null {
	if (!(end >= start) || end === Infinity || start === -Infinity) return null;
	const key = start * MOST_DAYS + end;
	const have = known.get(key);
	if (have) return have;
	if (known.size > MOST_KEPT) known.clear();
	const made = termsOf(start, end);
	known.set(key, made);
	return made;
}
const known = new Map<number, Terms>();
const MOST_DAYS = 2 ** 22;
const MOST_KEPT = 100_000;

function termsOf(start: number, end: number): Terms {
	const [a, b] = [fromSerial(start), fromSerial(end + 1)];
	const months = monthNumber(b) - monthNumber(a);
	const byMonths = months > 0 && edate(start, months) === end + 1;
	const byMonth = byMonths ? monthsFrom(start, months) : null;
	return {
		startOf: (k) => byMonth?.(k) ?? start + k * (end - start + 1),
		before: (day) => Math.max(0, Math.floor((day - start) / (end - start + 1)) - 1)
	};
}

/** The days that lie so many months after a day, each worked out once. */
export function monthsFrom(day: number, months: number): (n: number) => number {
	const key = day * MOST_MONTHS + months;
	const have = stepped.get(key);
	if (have) return have;
	if (stepped.size > MOST_KEPT) stepped.clear();
	const days: number[] = [];
	const made = (n: number) => (days[n] ??= edate(day, n * months));
	stepped.set(key, made);
	return made;
}
const stepped = new Map<number, (n: number) => number>();
const MOST_MONTHS = 2 ** 16;

/**
 * Sums over the terms that touch a span of days.
 * @param uplift what each renewal costs more, as a share
 * @param last the last day that counts; Infinity where renewals go on
 * @param ofTerm what a term gives, by its first and last day and its price beside that of the first
 */
export function overTerms(
	terms: Terms,
	uplift: number,
	last: number,
	firstDay: number,
	lastDay: number,
	ofTerm: (begin: number, ends: number, price: number) => number
): number {
	let sum = 0;
	for (let k = terms.before(firstDay); k < MOST_RENEWALS; k++) {
		const begin = terms.startOf(k);
		if (begin > lastDay || begin > last) break;
		const ends = Math.min(last, terms.startOf(k + 1) - 1);
		if (ends >= firstDay) sum += ofTerm(begin, ends, (1 + uplift) ** k);
	}
	return sum;
}

/**
 * The share of a period in a term that is renewed as soon as it ends: each day counts (1 + uplift) to the power of
 * the renewals before it.
 * @param last the last day that counts; Infinity where renewals go on
 */
export function renewingShare(
	start: number,
	end: number,
	uplift: number,
	last: number,
	firstDay: number,
	lastDay: number,
	daysBetween: (from: number, to: number) => number
): number {
	const terms = termsFrom(start, end);
	if (!terms) return activeShare(start, Math.min(end, last), firstDay, lastDay, daysBetween);
	return overTerms(
		terms,
		uplift,
		last,
		firstDay,
		lastDay,
		(begin, ends, price) => activeShare(begin, ends, firstDay, lastDay, daysBetween) * price
	);
}
