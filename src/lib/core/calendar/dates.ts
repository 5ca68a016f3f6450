/**
 * Dates as serial numbers: days since 30 December 1899, so that a date is a number and a difference is in days
 * (OpenFormula part 4, section 4.3.2 leaves the epoch open; this one is what spreadsheet files use).
 */
const DAY = 86_400_000;
const EPOCH = Date.UTC(1899, 11, 30);

export interface CalendarDate {
	year: number;
	/** 1 to 12. */
	month: number;
	day: number;
}

/** Serial number of a day; months and days beyond their range run on into the next ones, as DATE does. */
export function toSerial(year: number, month: number, day: number): number {
	const date = new Date(0);
	date.setUTCFullYear(year, month - 1, day);
	return Math.round((date.getTime() - EPOCH) / DAY);
}

export function fromSerial(serial: number): CalendarDate {
	const date = new Date(EPOCH + Math.floor(serial) * DAY);
	return { year: date.getUTCFullYear(), month: date.getUTCMonth() + 1, day: date.getUTCDate() };
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
	return new Date(Date.UTC(year, month, 0)).getUTCDate();
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
