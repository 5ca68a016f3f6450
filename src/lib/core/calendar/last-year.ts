/** The year before: where a period stood in it. */
import type { Calendar, Period } from './calendar';
import { spanOnto } from './onto';
import type { Span } from './spans';

/**
 * The same place in the fiscal year before: the same month, the same number of a week or period. What the year before
 * does not have, a 53rd week, looks back at its last.
 */
export function yearBefore(calendar: Calendar, period: Period): Period {
	if (calendar.months) return spanBefore(calendar, { from: period, to: period }).to;
	const year = calendar.fiscalYear(period);
	const place = period - calendar.yearStart(year);
	return Math.min(calendar.yearStart(year - 1) + place, calendar.yearStart(year) - 1);
}

/** The same for both ends of a span; of periods that are made of months, those that touch the months a year before. */
export function spanBefore(calendar: Calendar, span: Span): Span {
	const { months } = calendar;
	if (months) return spanOnto(calendar, months, spanBefore(months, spanOnto(months, calendar, span)));
	return { from: yearBefore(calendar, span.from), to: yearBefore(calendar, span.to) };
}

/** Whether a period is a leap week by itself: one that the year before need not have. */
export const isLeapWeek = (calendar: Calendar, period: Period): boolean =>
	period - calendar.yearStart(calendar.fiscalYear(period)) >= calendar.periodsPerYear;

/** A span within a year without a leap week at its end, so that years of 53 and 52 weeks compare alike. */
export const withoutLeapWeek = (calendar: Calendar, { from, to }: Span): Span => ({
	from,
	to: to > from && isLeapWeek(calendar, to) ? to - 1 : to
});
