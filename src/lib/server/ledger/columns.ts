/** Recognising a ledger file: its columns by their headings, its style of numbers and dates. */
import { ownValue } from '../../core/text';
import { delimitersOf, NotCsv, readCsv } from '../platform/csv';
import { Refusal } from '../platform/refusal';
import type { Structure } from '../../core/company/structure';
import { habitOf } from './amounts';

/** What a column of the file can be; dimensions come on top, by their code. */
export const FEED_FIELDS = [
	'date',
	'ledger_account',
	'ledger_account_name',
	'department',
	'amount',
	'debit',
	'credit',
	'document',
	'party',
	'description'
] as const;
export type FeedField = (typeof FEED_FIELDS)[number];
/** Those that hold amounts. */
export const AMOUNTS = ['amount', 'debit', 'credit'] as const;

export interface FeedOptions {
	/** Field or dimension → column index; fields that the file lacks are absent. */
	columns: Record<string, number>;
	decimal: '.' | ',';
	dates: 'year-first' | 'day-first' | 'month-first';
	/** Whether a positive amount is a debit or a credit. */
	positive: 'debit' | 'credit';
}

/** Headings by which a column is recognised, in lower case without punctuation. */
const HEADINGS: Record<FeedField, string[]> = {
	date: ['date', 'posting date', 'booking date', 'transaction date', 'entry date'],
	ledger_account: [
		'ledger account',
		'account',
		'account code',
		'account number',
		'nominal code',
		'account no'
	],
	ledger_account_name: ['account name', 'ledger account name', 'nominal name'],
	department: ['department', 'department code', 'dept', 'cost centre', 'cost center'],
	amount: ['amount', 'net amount', 'value'],
	debit: ['debit', 'debit amount', 'dr'],
	credit: ['credit', 'credit amount', 'cr'],
	document: ['document', 'document number', 'voucher', 'reference', 'invoice', 'document no'],
	party: ['party', 'supplier', 'counterparty', 'customer name', 'vendor'],
	description: ['description', 'text', 'details', 'memo', 'narrative']
};

/** A heading in lower case without punctuation. */
export const normal = (heading: string) =>
	heading
		.toLowerCase()
		.replace(/[^\p{L}\p{N}]+/gu, ' ')
		.trim();

export interface Sheet {
	heading: string[];
	body: string[][];
	/** The row of each of them in the file, as a spreadsheet counts. */
	rows: number[];
}

/** Headings are looked for in so many rows; above them stand a title, a company's name, a day. */
const MOST_TITLES = 20;
const KNOWN = new Set(Object.values(HEADINGS).flat());

/** Where the first row stands that has two headings or more that are known; -1 where none has. */
const headingIn = (records: readonly (readonly string[])[], more: ReadonlySet<string>) =>
	records.slice(0, MOST_TITLES).findIndex((cells) => {
		const known = cells.map(normal).filter((h) => KNOWN.has(h) || more.has(h));
		return new Set(known).size >= 2;
	});

/** The sign between cells by which the first rows have headings; by none of them, the likeliest. */
function signOf(content: string, more: ReadonlySet<string>): string {
	const signs = delimitersOf(content);
	const top = content.split(/\r\n|\r|\n/, MOST_TITLES * 2).join('\n');
	const fits = (sign: string) => {
		try {
			return headingIn(readCsv(top, sign).records, more) >= 0;
		} catch {
			// A quotation mark that is closed further down.
			return false;
		}
	};
	return signs.find(fits) ?? signs[0];
}

/**
 * The file's rows as text, from its headings on.
 * @param more headings that are known beside those of a ledger @throws Refusal when it is empty or no CSV
 */
export function readSheet(file: string, content: string, more: ReadonlySet<string> = new Set()): Sheet {
	try {
		const { records, rows } = readCsv(content, signOf(content, more));
		if (!records.length) throw new Refusal(422, `${file} is empty.`);
		const at = Math.max(0, headingIn(records, more));
		return { heading: records[at], body: records.slice(at + 1), rows: rows.slice(at + 1) };
	} catch (e) {
		if (!(e instanceof NotCsv)) throw e;
		throw new Refusal(422, `${file} cannot be read as CSV.`, [{ file, row: e.row, message: e.message }]);
	}
}

function guessColumns(heading: readonly string[], { dimensions }: Structure): Record<string, number> {
	const columns: Record<string, number> = {};
	const names = heading.map(normal);
	for (const field of FEED_FIELDS) {
		const at = HEADINGS[field].map((h) => names.indexOf(h)).find((i) => i >= 0);
		if (at !== undefined && !Object.values(columns).includes(at)) columns[field] = at;
	}
	for (const [code, { dimension }] of dimensions) {
		const at = [code, dimension.name].map((n) => names.indexOf(normal(n))).find((i) => i >= 0);
		if (at !== undefined && !Object.values(columns).includes(at)) columns[code] = at;
	}
	return columns;
}

/** Every amount of the file as text. */
export function* amountsIn(sheet: Sheet, columns: Readonly<Record<string, number>>): Iterable<string> {
	const places = AMOUNTS.flatMap((field) => ownValue(columns, field) ?? []);
	for (const record of sheet.body) for (const place of places) yield record[place] ?? '';
}

/** What the file's headings and first rows say of its columns and style. */
export function guessOptions(sheet: Sheet, structure: Structure): FeedOptions {
	const columns = guessColumns(sheet.heading, structure);
	const sample = sheet.body.slice(0, 500);
	const values = (field: string) =>
		columns[field] === undefined ? [] : sample.map((r) => r[columns[field]] ?? '');
	const dates = values('date');
	const firstParts = dates.map((d) => Number(/^(\d{1,2})[./-]/.exec(d)?.[1] ?? 0));
	const yearFirst = dates.filter((d) => /^\d{4}/.test(d)).length * 2 >= dates.length;
	const secondParts = dates.map((d) => Number(/^\d{1,2}[./-](\d{1,2})/.exec(d)?.[1] ?? 0));
	return {
		columns,
		decimal: habitOf(amountsIn(sheet, columns)).decimal ?? '.',
		dates: yearFirst
			? 'year-first'
			: Math.max(...secondParts, 0) > 12 && Math.max(...firstParts, 0) <= 12
				? 'month-first'
				: 'day-first',
		positive: 'debit'
	};
}

/** A date in the file's style as ISO 8601; null when it is none, or anything stands behind it. */
export function readDate(text: string, style: FeedOptions['dates']): string | null {
	const m = /^(\d{1,4})([./-])(\d{1,2})\2(\d{1,4})$/.exec(text.trim());
	if (!m) return null;
	const [a, b, c] = [m[1], m[3], m[4]];
	const [y, mo, d] = style === 'year-first' ? [a, b, c] : style === 'day-first' ? [c, b, a] : [c, a, b];
	if (y.length !== 4 || d.length > 2) return null;
	return `${y}-${mo.padStart(2, '0')}-${d.padStart(2, '0')}`;
}
