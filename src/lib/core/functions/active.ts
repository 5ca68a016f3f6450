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

/**
 * The share of a period in a term that is renewed as soon as it ends: each day counts (1 + uplift) to the power of
 * the renewals before it. Terms of whole months are renewed by months, others by days.
 */
export function renewingShare(
	start: number,
	end: number,
	uplift: number,
	firstDay: number,
	lastDay: number,
	daysBetween: (from: number, to: number) => number
): number {
	if (!(end >= start) || end === Infinity) return activeShare(start, end, firstDay, lastDay, daysBetween);
	const [a, b] = [fromSerial(start), fromSerial(end + 1)];
	const months = monthNumber(b) - monthNumber(a);
	const byMonths = months > 0 && edate(start, months) === end + 1;
	const startOf = (k: number) => (byMonths ? edate(start, k * months) : start + k * (end - start + 1));
	const estimate = Math.floor((firstDay - start) / (end - start + 1)) - 1;
	let share = 0;
	for (let k = Math.max(0, estimate); k < MOST_RENEWALS; k++) {
		const begin = startOf(k);
		if (begin > lastDay) break;
		share += activeShare(begin, startOf(k + 1) - 1, firstDay, lastDay, daysBetween) * (1 + uplift) ** k;
	}
	return share;
}
