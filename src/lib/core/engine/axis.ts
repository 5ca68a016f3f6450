/** The periods of a calculation: their place in the year, their first and last days, their lengths. */
import { daysInMonth, fromIsoDate, fromSerial, toSerial } from '../calendar/dates';
import { periodRange, type Calendar, type Period } from '../calendar/calendar';
import { spanBefore, yearBefore } from '../calendar/last-year';
import { spanOnto } from '../calendar/onto';

export interface Axis {
	/** Period ordinal of index 0. */
	first: Period;
	/** Number of periods. */
	length: number;
	/** Index of the first open period; those before it are closed. */
	open: number;
	/** For each index, the index of its fiscal year's first period (may be negative). */
	yearStart: Int32Array;
	/** The same for the calendar year in which the period ends. */
	calendarYearStart: Int32Array;
	/** For each index, how many periods back the same place in the year before is. */
	yearBack: Int32Array;
	/** How many calendar months each period has: of each month its share by days. */
	months: Float64Array;
	/** First and last days of a year before each period, where that is more than one period, or part of one. */
	yearAgo?: { firstDay: Float64Array; lastDay: Float64Array };
	/** Serial numbers of each period's first and last day. */
	firstDay: Float64Array;
	lastDay: Float64Array;
	/** Days counted from one day to another, both included: actual, or as if each month had 30. */
	daysBetween(from: number, to: number): number;
	/** The same kind of axis over all periods that touch the days from..to (serial numbers). */
	covering(from: number, to: number): Axis;
}

const actualDays = (from: number, to: number) => Math.max(0, to - from + 1);

/**
 * The axis of a calendar's periods.
 * @param open index of the first open period
 */
export function axisOf(calendar: Calendar, first: Period, length: number, open: number): Axis {
	const periods = periodRange(first, first + length - 1);
	const firstDay = Float64Array.from(periods, (p) => fromIsoDate(calendar.firstDay(p))!);
	const lastDay = Float64Array.from(periods, (p) => fromIsoDate(calendar.lastDay(p))!);
	return {
		first,
		length,
		open,
		yearStart: Int32Array.from(periods, (p) => calendar.yearStart(calendar.fiscalYear(p)) - first),
		calendarYearStart: Int32Array.from(periods, (p) => calendar.calendarYearStart(p) - first),
		yearBack: Int32Array.from(periods, (p) => p - yearBefore(calendar, p)),
		...(calendar.months
			? {
					yearAgo: daysYearAgo(calendar, calendar.months, periods)
				}
			: {}),
		firstDay,
		lastDay,
		months: Float64Array.from(periods, (_, t) => monthsOn(firstDay[t], lastDay[t])),
		daysBetween: calendar.daysBetween ?? actualDays,
		covering(from, to) {
			const [a, b] = [calendar.periodOfDay(from), calendar.periodOfDay(to)];
			return axisOf(calendar, a, b - a + 1, 0);
		}
	};
}

/** Whole calendar months between two days, and of others their share by days. */
function monthsOn(from: number, to: number): number {
	let months = 0;
	for (let day = from; day <= to;) {
		const { year, month } = fromSerial(day);
		const length = daysInMonth(year, month);
		const last = Math.min(to, toSerial(year, month, length));
		months += (last - day + 1) / length;
		day = last + 1;
	}
	return months;
}

function daysYearAgo(calendar: Calendar, months: Calendar, periods: readonly Period[]) {
	const before = periods.map((p) => spanBefore(months, spanOnto(months, calendar, { from: p, to: p })));
	return {
		firstDay: Float64Array.from(before, ({ from }) => fromIsoDate(months.firstDay(from))!),
		lastDay: Float64Array.from(before, ({ to }) => fromIsoDate(months.lastDay(to))!)
	};
}

/** A calendar’s periods that cover all days of another axis; the first open one holds its first open day. */
export function axisCovering(calendar: Calendar, { length, open, firstDay, lastDay }: Axis): Axis {
	const first = calendar.periodOfDay(firstDay[0]);
	const periods = calendar.periodOfDay(lastDay[length - 1]) - first + 1;
	return axisOf(
		calendar,
		first,
		periods,
		open < length ? calendar.periodOfDay(firstDay[open]) - first : periods
	);
}

/** An axis without a calendar, for calculations that do not ask for dates; a year is `perYear` periods. */
export function bareAxis(length: number, open = 0, perYear = 12): Axis {
	const start = Int32Array.from({ length }, (_, t) => t - (t % perYear));
	return {
		first: 0,
		length,
		open,
		yearStart: start,
		calendarYearStart: start,
		yearBack: new Int32Array(length).fill(perYear),
		months: new Float64Array(length).fill(1),
		firstDay: Float64Array.from({ length }, (_, t) => t * 30 + 1),
		lastDay: Float64Array.from({ length }, (_, t) => t * 30 + 30),
		daysBetween: actualDays,
		covering: (from, to) => {
			const a = Math.floor((from - 1) / 30);
			return bareAxis(Math.floor((to - 1) / 30) - a + 1, 0, perYear);
		}
	};
}
