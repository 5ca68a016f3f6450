/** The calendar that a specification describes. Calendars of companies are made here and nowhere else. */
import { monthCalendar, type Calendar } from './calendar';
import type { CalendarSpec } from './spec';
import { weekCalendar } from './weeks';

/** There are some thousands at most; the same specification always gives the same calendar. */
const made = new Map<string, Calendar>();

/** @throws RangeError for months and weekdays that are none */
export function calendarOf(spec: CalendarSpec): Calendar {
	const key = JSON.stringify(Object.entries(spec).sort(([a], [b]) => (a < b ? -1 : 1)));
	const have = made.get(key);
	if (have) return have;
	const calendar = make(spec);
	made.set(key, calendar);
	return calendar;
}

function make(spec: CalendarSpec): Calendar {
	switch (spec.kind) {
		case 'months':
			return monthCalendar(spec.fiscalStart, spec.dayCount);
		case 'weeks':
			return weekCalendar(spec.grouping, spec);
	}
}
