/** Dates as people type and paste them. */
import { utcFormat, utcParse } from 'd3';

/** Day, month, year in that order, however they are set apart; a month by its number or its name; ISO 8601. */
const WRITTEN = [
	'%Y-%m-%d',
	'%d.%m.%Y',
	'%d.%m.%y',
	'%d/%m/%Y',
	'%d/%m/%y',
	'%d-%m-%Y',
	'%d %b %Y',
	'%d %b %y',
	'%d %B %Y',
	'%d-%b-%Y',
	'%d-%b-%y',
	// A month alone is its first day.
	'%b %Y',
	'%B %Y',
	'%Y-%m',
	'%m/%Y'
].map((form) => ({ parse: utcParse(form), write: utcFormat(form) }));
const iso = utcFormat('%Y-%m-%d');

/** Between these a date is meant; beyond them it is a slip. */
const [FIRST, LAST] = [1900, 2199];

/**
 * Reads a day: 2027-02-15, 15.2.2027, 15/2/27, 15 Feb 2027, or Feb 2027 for its first.
 * @returns ISO 8601; null for what is no day, as 31.02.
 */
export function readDay(text: string): string | null {
	const t = text.trim().replace(/\s+/g, ' ').replace(/,/g, '');
	for (const { parse, write } of WRITTEN) {
		const date = parse(t);
		// A day that a month does not have would run on into the next one, and is written otherwise.
		if (date && within(date) && plain(write(date)) === plain(t)) return iso(date);
	}
	return null;
}

const within = (date: Date): boolean => date.getUTCFullYear() >= FIRST && date.getUTCFullYear() <= LAST;
const plain = (written: string) => written.toLowerCase().replace(/\b0+(?=\d)/g, '');
