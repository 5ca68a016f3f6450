/** The calendar that a specification describes. Calendars in use are made here and nowhere else. */
import { monthCalendar, type Calendar } from './calendar';
import { mixedCalendar } from './mixed';
import type { AnyCalendarSpec } from './spec';
import { weekCalendar } from './weeks';

/** There are some thousands at most; the same specification always gives the same calendar. */
const made = new Map<string, Calendar>();

/** @throws RangeError for months and weekdays that are none */
export function calendarOf(spec: AnyCalendarSpec): Calendar {
	const key = JSON.stringify(Object.entries(spec).sort(([a], [b]) => (a < b ? -1 : 1)));
	const have = made.get(key);
	if (have) return have;
	const calendar = make(spec);
	made.set(key, calendar);
	return calendar;
}

function make(spec: AnyCalendarSpec): Calendar {
	switch (spec.kind) {
		case 'months':
			return monthCalendar(spec.fiscalStart, spec.dayCount);
		case 'weeks':
			return weekCalendar(spec.grouping, spec);
		case 'mixed':
			return mixedCalendar(spec);
	}
}
