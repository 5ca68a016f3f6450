/** The months that a page shows. */
import { goto } from '$app/navigation';
import { page } from '$app/state';
import type { Calendar } from '../../core/calendar/calendar';
import type { Span } from '../../core/calendar/spans';

/** Leads to the same page over other months; the browser's Back leads back. */
export function showMonths(calendar: Calendar, { from, to }: Span): void {
	const url = new URL(page.url);
	url.searchParams.set('from', calendar.key(from));
	url.searchParams.set('to', calendar.key(to));
	void goto(url, { keepFocus: true, noScroll: true });
}
