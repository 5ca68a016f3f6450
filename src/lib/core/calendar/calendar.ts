/**
 * Periods are integers on a calendar's own scale, so that "n periods back" is a subtraction.
 * This is the calendar of twelve months: period = year × 12 + month (January = 0).
 */
export type Period = number;

/** What the rest of the core asks of any calendar. Dates are ISO 8601 (`YYYY-MM-DD`). */
export interface Calendar {
	readonly fiscalStart: number;
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
	/** Days in the period, actual count. */
	days(period: Period): number;
	/** The period that holds an ISO date; null when it is no real date. */
	periodOf(isoDate: string): Period | null;
	/** A fiscal year is named by the calendar year in which it ends. */
	fiscalYear(period: Period): number;
	/** Quarter within the fiscal year, 1 to 4. */
	quarter(period: Period): number;
	/** First period of a fiscal year. */
	yearStart(fiscalYear: number): Period;
	/** `FY27` */
	yearLabel(fiscalYear: number): string;
}

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

const pad = (n: number, width = 2) => String(n).padStart(width, '0');

/**
 * The calendar of twelve months.
 * @param fiscalStart first month of the fiscal year, 1 (January) to 12
 */
export function monthCalendar(fiscalStart: number): Calendar {
	if (!Number.isInteger(fiscalStart) || fiscalStart < 1 || fiscalStart > 12)
		throw new RangeError(`The fiscal year starts in a month from 1 to 12, not ${fiscalStart}.`);
	const year = (p: Period) => Math.floor(p / 12);
	const month = (p: Period) => p - year(p) * 12;
	const offset = fiscalStart - 1;
	const endsLater = fiscalStart === 1 ? 0 : 1;
	const daysIn = (p: Period) => new Date(Date.UTC(year(p), month(p) + 1, 0)).getUTCDate();

	return {
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
		firstDay: (p) => `${pad(year(p), 4)}-${pad(month(p) + 1)}-01`,
		lastDay: (p) => `${pad(year(p), 4)}-${pad(month(p) + 1)}-${pad(daysIn(p))}`,
		days: daysIn,
		periodOf(isoDate) {
			const m = /^(\d{4})-(\d{2})-(\d{2})$/.exec(isoDate);
			if (!m) return null;
			const mm = Number(m[2]);
			if (mm < 1 || mm > 12) return null;
			const p = Number(m[1]) * 12 + mm - 1;
			const day = Number(m[3]);
			return day >= 1 && day <= daysIn(p) ? p : null;
		},
		fiscalYear: (p) => Math.floor((p - offset) / 12) + endsLater,
		quarter: (p) => Math.floor(((((p - offset) % 12) + 12) % 12) / 3) + 1,
		yearStart: (fy) => (fy - endsLater) * 12 + offset,
		yearLabel: (fy) => `FY${pad(((fy % 100) + 100) % 100)}`
	};
}

/** The periods from first to last, both included. */
export function periodRange(first: Period, last: Period): Period[] {
	return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i);
}
