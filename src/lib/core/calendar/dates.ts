/**
 * Dates as serial numbers: days since 30 December 1899, so that a date is a number and a difference is in days
 * (OpenFormula part 4, section 4.3.2 leaves the epoch open; this one is what spreadsheet files use).
 */

const EPOCH = civilDay(1899, 12, 30);

export interface CalendarDate {
	year: number;
	/** 1 to 12. */
	month: number;
	day: number;
}

/** Months of the Gregorian year, which amounts a year are divided into whatever calendar a company has. */
export const MONTHS_A_YEAR = 12;
/** A date's month in a row over all years: the difference of two is in months. */
export const monthNumber = ({ year, month }: Pick<CalendarDate, 'year' | 'month'>): number =>
	year * MONTHS_A_YEAR + month;

/**
 * Days of the Gregorian calendar since 1 March of the year 0, by whole-number arithmetic (years begin in March, so
 * that leap days come last): formulas ask for millions of dates.
 */
function civilDay(year: number, month: number, day: number): number {
	const months = year * 12 + month - 3;
	const y = Math.floor(months / 12);
	const m = months - y * 12;
	return (
		y * 365 +
		Math.floor(y / 4) -
		Math.floor(y / 100) +
		Math.floor(y / 400) +
		Math.floor((153 * m + 2) / 5) +
		day -
		1
	);
}

/** Serial number of a day; months and days beyond their range run on into the next ones, as DATE does. */
export const toSerial = (year: number, month: number, day: number): number =>
	civilDay(year, month, day) - EPOCH;

export function fromSerial(serial: number): CalendarDate {
	const days = Math.floor(serial) + EPOCH;
	const era = Math.floor(days / 146_097);
	const ofEra = days - era * 146_097;
	const yearOfEra = Math.floor(
		(ofEra - Math.floor(ofEra / 1460) + Math.floor(ofEra / 36_524) - Math.floor(ofEra / 146_096)) / 365
	);
	const ofYear = ofEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100));
	const march = Math.floor((5 * ofYear + 2) / 153);
	const month = march < 10 ? march + 3 : march - 9;
	return {
		year: yearOfEra + era * 400 + (month <= 2 ? 1 : 0),
		month,
		day: ofYear - Math.floor((153 * march + 2) / 5) + 1
	};
}

/** Serial number of an ISO 8601 date (`YYYY-MM-DD`); null for anything else, also for days that do not exist. */
export function fromIsoDate(text: string): number | null {
	const m = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
	if (!m) return null;
	const [year, month, day] = m.slice(1).map(Number);
	if (month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return null;
	return toSerial(year, month, day);
}

export function toIsoDate(serial: number): string {
	const { year, month, day } = fromSerial(serial);
	return `${String(year).padStart(4, '0')}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
}

export function daysInMonth(year: number, month: number): number {
	return civilDay(year, month + 1, 1) - civilDay(year, month, 1);
}

/** ISO 8601 weekday, Monday 1 to Sunday 7. */
export function weekday(serial: number): number {
	return ((((Math.floor(serial) - 2) % 7) + 7) % 7) + 1;
}

/**
 * Days from one day to another, both included, as if every month had 30 (30E/360: the 31st counts as the 30th,
 * and so does the last day of February when a period ends there).
 */
export function days360(from: number, to: number): number {
	if (to < from) return 0;
	const a = fromSerial(from);
	const b = fromSerial(to);
	const last = b.day === daysInMonth(b.year, b.month) ? 30 : Math.min(30, b.day);
	return Math.max(0, (b.year - a.year) * 360 + (b.month - a.month) * 30 + last - Math.min(30, a.day) + 1);
}
