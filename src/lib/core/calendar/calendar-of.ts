/** The calendar that a specification describes. Calendars of companies are made here and nowhere else. */
import { monthCalendar, type Calendar } from './calendar';
import type { CalendarSpec } from './spec';
import { weekCalendar } from './weeks';

/** @throws RangeError for months and weekdays that are none */
export function calendarOf(spec: CalendarSpec): Calendar {
	switch (spec.kind) {
		case 'months':
			return monthCalendar(spec.fiscalStart, spec.dayCount);
		case 'weeks':
			return weekCalendar(spec.grouping, spec);
	}
}
