/** What a calendar is, in words, for those who choose one. */
import { monthName, type Calendar } from './calendar';
import { fromIsoDate, fromSerial } from './dates';

/** `1 April 2026` */
export function longDate(isoDate: string): string {
	const { year, month, day } = fromSerial(fromIsoDate(isoDate)!);
	return `${day} ${monthName(month)} ${year}`;
}

/** `FY27 is 1 April 2026 to 31 March 2027, in 12 months` */
export function yearSaid(calendar: Calendar, fiscalYear: number): string {
	const first = calendar.yearStart(fiscalYear);
	const last = calendar.yearStart(fiscalYear + 1) - 1;
	const from = longDate(calendar.firstDay(first));
	const to = longDate(calendar.lastDay(last));
	return `${calendar.yearLabel(fiscalYear)} is ${from} to ${to}, in ${last - first + 1} ${calendar.words.many}`;
}
