/** Exchange rates as people paste them or as a bank's file has them: a line for each currency and period. */
import type { Calendar, Period } from '../calendar/calendar';
import { isCurrency } from '../company/currency';
import { Rate, RATE_KINDS, type RateKind } from './rates';

export interface ReadRate extends Record<RateKind, number | null> {
	currency: string;
	period: Period;
}
export interface RateFault {
	/** Of the text, the first is 1. */
	line: number;
	message: string;
}

export const MOST_LINES = 20_000;
const COLUMNS = ['currency', 'period', ...RATE_KINDS] as const;
type Column = (typeof COLUMNS)[number];

/**
 * Reads lines of currency, period, average and closing rate, in that order or as a first line of headings says; with
 * tabs, semicolons or commas between them. Where commas do not separate, they may stand before decimals.
 * @param reporting the currency in which rates are given, which has none itself
 */
export function readRates(
	text: string,
	calendar: Calendar,
	reporting: string
): { rates: ReadRate[]; faults: RateFault[] } {
	const lines = text.split(/\r\n|\r|\n/).map((content, i) => ({ content: content.trim(), line: i + 1 }));
	const filled = lines.filter(({ content }) => content);
	const separator = ['\t', ';', ','].find((s) => filled[0]?.content.includes(s)) ?? '\t';
	const cellsOf = (content: string) =>
		content.split(separator).map((cell) => cell.trim().replace(/^"(.*)"$/, '$1'));
	const heading = filled.length ? cellsOf(filled[0].content).map((cell) => cell.toLowerCase()) : [];
	const headed = COLUMNS.slice(0, 2).every((c) => heading.includes(c));
	const placeOf = (column: Column) => (headed ? heading.indexOf(column) : COLUMNS.indexOf(column));
	const rates: ReadRate[] = [];
	const faults: RateFault[] = [];
	const seen = new Map<string, number>();
	const body = headed ? filled.slice(1) : filled;
	if (!body.length) faults.push({ line: 1, message: 'there are no rates' });
	if (body.length > MOST_LINES)
		return {
			rates,
			faults: [{ line: MOST_LINES, message: `at most ${MOST_LINES} lines are taken at once` }]
		};
	for (const { content, line } of body) {
		const cells = cellsOf(content);
		const cell = (column: Column) => cells[placeOf(column)] ?? '';
		const fail = (message: string) => faults.push({ line, message });
		const currency = cell('currency').toUpperCase();
		// A sheet often has the day for which a rate was published.
		const period = calendar.parse(cell('period')) ?? calendar.periodOf(cell('period'));
		const number = (kind: RateKind): number | null => {
			const written = cell(kind);
			if (written === '') return null;
			const value = Number(separator === ',' ? written : written.replace(',', '.'));
			if (Rate.safeParse(value).success) return value;
			fail(`“${written}” is no ${kind} rate above 0`);
			return null;
		};
		if (!isCurrency(currency)) fail(`“${cell('currency')}” is no currency such as EUR (ISO 4217)`);
		else if (currency === reporting) fail(`${reporting} is what rates are given in; its own is 1`);
		if (period === null)
			fail(`“${cell('period')}” is no ${calendar.words.one} such as ${calendar.words.sample}`);
		const [average, closing] = [number('average'), number('closing')];
		if (period === null || faults.at(-1)?.line === line) continue;
		if (average === null && closing === null) {
			fail('there is no rate');
			continue;
		}
		const key = `${currency} ${period}`;
		const before = seen.get(key);
		if (before !== undefined) {
			fail(`${currency} ${calendar.label(period)} stands in line ${before} already`);
			continue;
		}
		seen.set(key, line);
		rates.push({ currency, period, average, closing });
	}
	return { rates, faults };
}
