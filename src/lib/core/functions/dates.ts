/** Date functions as in OpenFormula (OASIS ODF part 4, section 6.10), on serial numbers. NaN stands for #NUM!. */
import { daysInMonth, fromSerial, toSerial } from '../calendar/dates';

/** Eight thousand years. */
const MOST_MONTHS = 96_000;

/** The same day so many months later, or the month's last day where it has no such day. */
export function edate(serial: number, months: number): number {
	const { year, month, day } = fromSerial(serial);
	if (Math.abs(months) > MOST_MONTHS) return NaN;
	const first = toSerial(year, month + Math.trunc(months), 1);
	const target = fromSerial(first);
	return first + Math.min(day, daysInMonth(target.year, target.month)) - 1;
}

/** Last day of the month so many months later. */
export function eomonth(serial: number, months: number): number {
	const { year, month } = fromSerial(serial);
	if (Math.abs(months) > MOST_MONTHS) return NaN;
	return toSerial(year, month + Math.trunc(months) + 1, 0);
}

const isLeap = (year: number) => daysInMonth(year, 2) === 29;

/**
 * Years between two days.
 * @param basis 0: US 30/360; 1: actual/actual; 2: actual/360; 3: actual/365; 4: European 30/360
 */
export function yearfrac(from: number, to: number, basis = 0): number {
	const [start, end] = from <= to ? [Math.floor(from), Math.floor(to)] : [Math.floor(to), Math.floor(from)];
	const [a, b] = [fromSerial(start), fromSerial(end)];
	const thirty = (dayA: number, dayB: number) =>
		((b.year - a.year) * 360 + (b.month - a.month) * 30 + dayB - dayA) / 360;
	switch (Math.trunc(basis)) {
		case 0: {
			const lastOfFebruary = (d: typeof a) => d.month === 2 && d.day === daysInMonth(d.year, 2);
			let [dayA, dayB] = [a.day, b.day];
			if (lastOfFebruary(a) && lastOfFebruary(b)) dayB = 30;
			if (lastOfFebruary(a)) dayA = 30;
			if (dayB === 31 && dayA >= 30) dayB = 30;
			if (dayA === 31) dayA = 30;
			return thirty(dayA, dayB);
		}
		case 1:
			return (end - start) / yearLength(a, b);
		case 2:
			return (end - start) / 360;
		case 3:
			return (end - start) / 365;
		case 4:
			return thirty(Math.min(30, a.day), Math.min(30, b.day));
		default:
			return NaN;
	}
}

type Day = ReturnType<typeof fromSerial>;

/** Days of the year for actual/actual: of the one year, or the mean of all years touched when more than one passes. */
function yearLength(a: Day, b: Day): number {
	const withinAYear =
		a.year === b.year ||
		(a.year + 1 === b.year && (a.month > b.month || (a.month === b.month && a.day >= b.day)));
	if (!withinAYear) {
		const years = b.year - a.year + 1;
		return (toSerial(b.year + 1, 1, 1) - toSerial(a.year, 1, 1)) / years;
	}
	if (a.year === b.year) return isLeap(a.year) ? 366 : 365;
	const leapDay =
		(isLeap(a.year) && a.month <= 2) || (isLeap(b.year) && (b.month > 2 || (b.month === 2 && b.day === 29)));
	return leapDay ? 366 : 365;
}
