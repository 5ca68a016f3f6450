/** Periods side by side, and their quarters. */
import type { Calendar, Period } from './calendar';

/** Periods from one to another, both included (ordinals). */
export interface Span {
	from: Period;
	to: Period;
}

/** So many periods are shown side by side at most: ten years of months. */
export const MOST_MONTHS = 120;

/** The quarter of a period, as far as it lies in a window. */
export function quarterSpan(calendar: Calendar, period: Period, window: Span): Span {
	const same = (p: Period) =>
		calendar.quarter(p) === calendar.quarter(period) &&
		calendar.fiscalYear(p) === calendar.fiscalYear(period);
	let { from, to } = { from: period, to: period };
	while (from > window.from && same(from - 1)) from--;
	while (to < window.to && same(to + 1)) to++;
	return { from, to };
}

/** Whether a period is a quarter, or more than one, by itself: there is nothing to fold. */
export function isAlone(calendar: Calendar, period: Period): boolean {
	const { from, to } = quarterSpan(calendar, period, { from: period - 1, to: period + 1 });
	return from === to;
}

/**
 * A year's worth of periods from one on, up to where the next year comes to the same place, as far as `last`. From the first
 * of a fiscal year it is that year, with a leap week where it has one.
 */
export function yearFrom(calendar: Calendar, from: Period, last = Infinity): Span {
	const year = calendar.fiscalYear(from);
	const place = from - calendar.yearStart(year);
	const next = Math.min(calendar.yearStart(year + 1) + place, calendar.yearStart(year + 2));
	return { from, to: Math.min(last, next - 1) };
}

/** Every period of a window by itself. */
export const periodsOf = ({ from, to }: Span): Span[] =>
	Array.from({ length: to - from + 1 }, (_, i) => ({ from: from + i, to: from + i }));

/** The quarters of a window, in order. */
export function quartersOf(calendar: Calendar, window: Span): Span[] {
	const out: Span[] = [];
	for (let p = window.from; p <= window.to; p = out.at(-1)!.to + 1)
		out.push(quarterSpan(calendar, p, window));
	return out;
}

/**
 * The columns of a window: a period each, or a folded quarter.
 * @param folded tells by its first period whether a quarter is folded
 */
export const columnSpans = (calendar: Calendar, window: Span, folded: (first: Period) => boolean): Span[] =>
	quartersOf(calendar, window).flatMap((q) => (folded(q.from) && q.to > q.from ? [q] : periodsOf(q)));
