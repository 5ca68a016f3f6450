/** Seasonal profiles: a kept shape of the year that totals are spread by. */
import type { Calendar, Period } from '../calendar/calendar';
import { partsOnto } from '../calendar/onto';

/** Place of a period in its fiscal year, from 0. */
export const placeInYear = (calendar: Calendar, period: Period): number =>
	period - calendar.yearStart(calendar.fiscalYear(period));

/** Shares are kept to a millionth. */
const SHARE = 1e6;

/**
 * The shape of the year that figures have together: each period's share in the whole.
 * @param rows figures, one a period
 * @param periods which periods those are, of the calendar given
 * @param company in whose periods the shape is kept; figures of other periods are divided by days
 * @returns null where a period of the year is missing, or the figures have no shape: a negative period, or nothing at all
 */
export function shapeOfYear(
	rows: readonly (readonly (number | null)[])[],
	periods: readonly Period[],
	calendar: Calendar,
	company = calendar
): number[] | null {
	const sums = Array<number>(company.periodsPerYear).fill(0);
	const seen = new Set<number>();
	periods.forEach((period, i) => {
		for (const { period: p, ofOurs } of partsOnto(company, calendar, period)) {
			const place = placeInYear(company, p);
			if (place >= sums.length) continue;
			seen.add(place);
			for (const row of rows) sums[place] += (row[i] ?? 0) * ofOurs;
		}
	});
	const total = sums.reduce((a, b) => a + b, 0);
	if (seen.size < sums.length || !(total > 0) || sums.some((s) => s < 0)) return null;
	return sums.map((s) => Math.round((s / total) * SHARE) / SHARE);
}

/**
 * Weights of cells for a spread by a profile: rows keep their proportion to each other, and each follows the profile.
 * Rows that hold nothing at all, all of them, count alike. A period beyond the profile's last has its last weight.
 * Cells of other periods than the profile's take their share of each by days.
 * @returns one weight a cell, row by row
 */
export function profileWeights(
	rows: readonly (readonly (number | null)[])[],
	periods: readonly Period[],
	weights: readonly number[],
	calendar: Calendar,
	company = calendar
): number[] {
	const at = (p: Period) => weights[Math.min(placeInYear(company, p), weights.length - 1)];
	const weightOf = (period: Period) =>
		partsOnto(company, calendar, period).reduce((sum, { period: p, ofIt }) => sum + at(p) * ofIt, 0);
	const totals = rows.map((row) => row.reduce<number>((sum, v) => sum + (v ?? 0), 0));
	const none = totals.every((t) => t === 0);
	return rows.flatMap((_, r) => periods.map((period) => (none ? 1 : totals[r]) * weightOf(period)));
}
