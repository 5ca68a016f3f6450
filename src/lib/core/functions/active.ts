/** Active share: which part of a period lies between two days. */

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
