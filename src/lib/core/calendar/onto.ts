/** One calendar onto another, by days. */
import type { Calendar, Period } from './calendar';
import { fromIsoDate } from './dates';
import type { Span } from './spans';

const firstDay = (calendar: Calendar, p: Period) => fromIsoDate(calendar.firstDay(p))!;
const lastDay = (calendar: Calendar, p: Period) => fromIsoDate(calendar.lastDay(p))!;

/** The period that a text names: in the calendar's own writing, or a month that lies in it. Null for anything else. */
export function periodNamed(calendar: Calendar, text: string): Period | null {
	const own = calendar.parse(text);
	if (own !== null || !calendar.months) return own;
	const month = calendar.months.parse(text);
	return month === null ? null : beginOnto(calendar, calendar.months, month);
}

/** The period of `to` that holds the first day of a period of `of`. */
export const beginOnto = (to: Calendar, of: Calendar, p: Period): Period =>
	to === of ? p : to.periodOfDay(firstDay(of, p));

/** The period of `to` that holds the last day of a period of `of`. */
export const endOnto = (to: Calendar, of: Calendar, p: Period): Period =>
	to === of ? p : to.periodOfDay(lastDay(of, p));

/** The periods of `to` that touch a span of `of`. */
export const spanOnto = (to: Calendar, of: Calendar, { from, to: last }: Span): Span => ({
	from: beginOnto(to, of, from),
	to: endOnto(to, of, last)
});

/** The periods of `to` that a period of `of` lies in, with how much of each it is, and how much of it lies there (shares). */
export function partsOnto(
	to: Calendar,
	of: Calendar,
	p: Period
): { period: Period; ofIt: number; ofOurs: number }[] {
	if (to === of) return [{ period: p, ofIt: 1, ofOurs: 1 }];
	const [first, last] = [firstDay(of, p), lastDay(of, p)];
	const { from, to: end } = spanOnto(to, of, { from: p, to: p });
	return Array.from({ length: end - from + 1 }, (_, i) => {
		const [a, b] = [firstDay(to, from + i), lastDay(to, from + i)];
		const days = Math.min(b, last) - Math.max(a, first) + 1;
		return { period: from + i, ofIt: days / (b - a + 1), ofOurs: days / (last - first + 1) };
	});
}

/**
 * The periods of `to` that count to a span of `of`: those that have most of their days in it, as ISO 8601 counts weeks to
 * years. Of two that follow each other without a gap, none counts to both. Empty (`to` before `from`) where there is none.
 */
export function mostlyOnto(to: Calendar, of: Calendar, { from, to: last }: Span): Span {
	if (to === of) return { from, to: last };
	const [first, end] = [firstDay(of, from), lastDay(of, last)];
	const middle = (p: Period) => Math.floor((firstDay(to, p) + lastDay(to, p)) / 2);
	const [a, b] = [to.periodOfDay(first), to.periodOfDay(end)];
	return { from: middle(a) < first ? a + 1 : a, to: middle(b) > end ? b - 1 : b };
}
