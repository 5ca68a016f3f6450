/**
 * Periods are integers on a calendar's own scale, so that "n periods back" is a subtraction.
 * On the calendar of twelve months: period = year × 12 + month (January = 0).
 */
import { days360, daysInMonth, fromIsoDate, fromSerial, toIsoDate, toSerial } from './dates';
import type { AnyCalendarSpec, DayCount } from './spec';

export type Period = number;

/** What periods of a calendar are called. */
export interface PeriodWords {
	one: string;
	many: string;
	/** At the beginning of a sentence. */
	One: string;
	Many: string;
	/** How one is written, as an example. */
	sample: string;
}
const MONTHS: PeriodWords = { one: 'month', many: 'months', One: 'Month', Many: 'Months', sample: '2026-10' };

/** What the rest of the core asks of any calendar. Dates are ISO 8601 (`YYYY-MM-DD`). */
export interface Calendar {
	/** What it was made from. */
	readonly spec: AnyCalendarSpec;
	/** The months that its periods are made of, where later years have coarser ones. */
	readonly months?: Calendar;
	readonly words: PeriodWords;
	/** First month of the fiscal year, 1 to 12. */
	readonly fiscalStart: number;
	/** Periods in a year; in a week calendar the usual 52. */
	readonly periodsPerYear: number;
	/** Stable text of a period, e.g. `2026-10`. */
	key(period: Period): string;
	/** Reads what `key` writes; null for anything else. */
	parse(key: string): Period | null;
	/** `Oct 26` */
	label(period: Period): string;
	/** `Oct` */
	shortLabel(period: Period): string;
	/** `October 2026` */
	longLabel(period: Period): string;
	firstDay(period: Period): string;
	lastDay(period: Period): string;
	/** Days in the period, by the calendar's own count. */
	days(period: Period): number;
	/** The period that holds an ISO date; null when it is no real date. */
	periodOf(isoDate: string): Period | null;
	/** The period that holds a day, given as a serial number. */
	periodOfDay(serial: number): Period;
	/** A fiscal year is named by the calendar year in which it ends. */
	fiscalYear(period: Period): number;
	/** Quarter within the fiscal year, 1 to 4. */
	quarter(period: Period): number;
	/** First period of a fiscal year. */
	yearStart(fiscalYear: number): Period;
	/** First period that ends in the same calendar year as this one. */
	calendarYearStart(period: Period): Period;
	/** `FY27` */
	yearLabel(fiscalYear: number): string;
	/** Days from one serial number to another, both included, where that is not the actual count. */
	daysBetween?(from: number, to: number): number;
}

/** Half of the fiscal year, 1 or 2. */
export const half = (calendar: Calendar, period: Period) => (calendar.quarter(period) <= 2 ? 1 : 2);

const LONG = [
	'January',
	'February',
	'March',
	'April',
	'May',
	'June',
	'July',
	'August',
	'September',
	'October',
	'November',
	'December'
];
export const monthName = (month: number) => LONG[month - 1];

const pad = (n: number, width = 2) => String(n).padStart(width, '0');
/** `FY27` */
export const yearLabel = (fiscalYear: number) => `FY${pad(((fiscalYear % 100) + 100) % 100)}`;

export function mustBeMonth(fiscalStart: number): void {
	if (!Number.isInteger(fiscalStart) || fiscalStart < 1 || fiscalStart > 12)
		throw new RangeError(`The fiscal year starts in a month from 1 to 12, not ${fiscalStart}.`);
}

/**
 * The calendar of twelve months.
 * @param fiscalStart first month of the fiscal year, 1 (January) to 12
 * @param dayCount actual days, or 30 in each month and 360 in the year
 */
export function monthCalendar(fiscalStart: number, dayCount: DayCount = 'actual'): Calendar {
	mustBeMonth(fiscalStart);
	const year = (p: Period) => Math.floor(p / 12);
	const month = (p: Period) => p - year(p) * 12;
	const offset = fiscalStart - 1;
	const endsLater = fiscalStart === 1 ? 0 : 1;
	const daysIn = (p: Period) => daysInMonth(year(p), month(p) + 1);

	return {
		spec: { kind: 'months', fiscalStart, dayCount },
		words: MONTHS,
		fiscalStart,
		periodsPerYear: 12,
		key: (p) => `${pad(year(p), 4)}-${pad(month(p) + 1)}`,
		parse(key) {
			const m = /^(\d{4})-(\d{2})$/.exec(key);
			if (!m) return null;
			const mm = Number(m[2]);
			return mm >= 1 && mm <= 12 ? Number(m[1]) * 12 + mm - 1 : null;
		},
		label: (p) => `${LONG[month(p)].slice(0, 3)} ${pad(year(p) % 100)}`,
		shortLabel: (p) => LONG[month(p)].slice(0, 3),
		longLabel: (p) => `${LONG[month(p)]} ${year(p)}`,
		firstDay: (p) => toIsoDate(toSerial(year(p), month(p) + 1, 1)),
		lastDay: (p) => toIsoDate(toSerial(year(p), month(p) + 2, 0)),
		days: dayCount === '30/360' ? () => 30 : daysIn,
		periodOf(isoDate) {
			const day = fromIsoDate(isoDate);
			return day === null ? null : this.periodOfDay(day);
		},
		periodOfDay(serial) {
			const date = fromSerial(serial);
			return date.year * 12 + date.month - 1;
		},
		fiscalYear: (p) => Math.floor((p - offset) / 12) + endsLater,
		quarter: (p) => Math.floor(((((p - offset) % 12) + 12) % 12) / 3) + 1,
		yearStart: (fy) => (fy - endsLater) * 12 + offset,
		calendarYearStart: (p) => year(p) * 12,
		yearLabel,
		...(dayCount === '30/360' ? { daysBetween: days360 } : {})
	};
}

/** The periods from first to last, both included. */
export function periodRange(first: Period, last: Period): Period[] {
	return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i);
}
