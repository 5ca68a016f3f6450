/** CSV tables (RFC 4180) read against a list of columns; every fault is collected with its place. */
import { stringify } from 'csv-stringify/sync';
import type { Calendar, Period } from '../../core/calendar/calendar';
import { fromIsoDate } from '../../core/calendar/dates';
import { isCurrency } from '../../core/company/currency';
import { MOST_AMOUNT } from '../../core/company/schema';
import { cleaned, isNoKey, textFault } from '../../core/text';
import { Rate } from '../../core/currency/rates';
import { NotCsv, readCsv, type Csv } from '../platform/csv';
import type { Fault } from '../platform/refusal';
import { companySpan, type MonthSpan } from '../platform/settings';

/** Reads one cell, periods by the company's calendar; throws a string that says what was expected. */
export type CellReader<T> = (text: string, calendar: Calendar) => T;

export const text: CellReader<string> = (t) => t;
const filled = (t: string): string => {
	if (t === '') throw 'a value';
	return t;
};
export const required: CellReader<string> = filled;
/** A name that people read and choose by. */
export const name: CellReader<string> = (t) => {
	const fault = textFault(filled(t));
	if (fault) throw `a name on one line, and this ${fault};`;
	return t;
};
/** Text of several lines. */
export const prose: CellReader<string> = (t) => {
	const fault = textFault(t, true);
	if (fault) throw `text, and this ${fault};`;
	return t;
};
/** Text of another system: what cannot stand in it is left out. */
export const foreign: CellReader<string> = (t) => cleaned(t);
export const optional: CellReader<string | null> = (t) => (t === '' ? null : t);
export const code: CellReader<string> = (t) => {
	if (!/^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$/.test(t))
		throw 'a code of letters, digits, dot, dash and underscore';
	return t;
};
const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/;
export const decimal: CellReader<number> = (t) => {
	if (!NUMBER.test(t)) throw 'a number such as 1234.56';
	if (Math.abs(Number(t)) > MOST_AMOUNT) throw 'a number of at most 10^15';
	return Number(t);
};
/** A sum of amounts. */
export const sum: CellReader<number> = (t) => {
	if (!NUMBER.test(t) || !Number.isFinite(Number(t))) throw 'a number such as 1234.56';
	return Number(t);
};
/** An exchange rate. */
export const rate: CellReader<number> = (t) => {
	const value = decimal(t, undefined as never);
	if (!Rate.safeParse(value).success) throw 'a rate above 0 such as 0.8615';
	return value;
};
export const currency: CellReader<string> = (t) => {
	if (!isCurrency(t)) throw 'an ISO 4217 currency code such as EUR';
	return t;
};
export const integer: CellReader<number> = (t) => {
	if (!/^-?\d{1,15}$/.test(t)) throw 'a whole number';
	return Number(t);
};
export const yesNo: CellReader<boolean> = (t) => {
	if (t !== 'yes' && t !== 'no') throw 'yes or no';
	return t === 'yes';
};
export const orNull =
	<T>(reader: CellReader<T>): CellReader<T | null> =>
	(t, calendar) =>
		t === '' ? null : reader(t, calendar);
export const oneOf =
	<T extends string>(values: readonly T[]): CellReader<T> =>
	(t) => {
		if (!values.includes(t as T)) throw `one of ${values.join(', ')}`;
		return t as T;
	};

export const list: CellReader<string[]> = (t) => t.split(';').filter(Boolean);
export const isoDate: CellReader<string> = (t) => {
	if (fromIsoDate(t) === null) throw 'a date such as 2026-10-31';
	return t;
};
/** What is expected where a period should stand. */
export const aPeriod = ({ words }: Calendar) => `a ${words.one} such as ${words.sample}`;
/** A period within a span of the calendar's. */
export const periodWithin =
	(span: (calendar: Calendar) => MonthSpan): CellReader<Period> =>
	(t, calendar) => {
		const period = calendar.parse(t);
		if (period === null) throw aPeriod(calendar);
		const { from, to } = span(calendar);
		if (period < from || period > to)
			throw `a ${calendar.words.one} from ${calendar.key(from)} to ${calendar.key(to)}`;
		return period;
	};
/** A period that scenarios may span. */
export const period = periodWithin(companySpan);

export type Columns = Record<string, CellReader<unknown>>;
/** A row that was read: its cells by heading, its place (1 is the heading), and headings that are no columns of the form. */
export type Row<C extends Columns> = { [K in keyof C]: ReturnType<C[K]> } & {
	rowNumber: number;
	more: Record<string, string>;
};

/** The raw records of a CSV text, with a fault where it cannot be read. */
function records(file: string, content: string, faults: Fault[]): Csv {
	try {
		return readCsv(content);
	} catch (e) {
		if (!(e instanceof NotCsv)) throw e;
		faults.push({ file, row: e.row, message: `is not readable as CSV: ${e.message}` });
		return { records: [], rows: [] };
	}
}

export interface TableOptions {
	more?: boolean | readonly string[];
	needs?: readonly string[];
	later?: readonly string[];
	/** Told which of those are missing. */
	missing?: (heading: string) => void;
}

/**
 * Reads a table with a heading row. Missing and unknown headings, short rows and cells that cannot be read
 * are faults; rows with faults are left out. Headings in `more` (or all others when true) and in `needs`, which must be
 * there, are kept as text; those in `later` have come with a later version and may be missing, as if they were empty.
 */
export function readTable<C extends Columns>(
	file: string,
	content: string,
	columns: C,
	faults: Fault[],
	calendar: Calendar,
	options: TableOptions = {}
): Row<C>[] {
	const read = records(file, content, faults);
	const [heading, ...body] = read.records;
	if (!heading) {
		if (!faults.some((f) => f.file === file))
			faults.push({ file, row: 1, message: 'is empty; a heading row was expected' });
		return [];
	}
	const names = Object.keys(columns);
	const place = new Map(heading.map((h, i) => [h.trim(), i]));
	const before = faults.length;
	for (const name of names)
		if (!place.has(name)) {
			if (options.later?.includes(name)) options.missing?.(name);
			else faults.push({ file, row: 1, column: name, message: `the column “${name}” is missing` });
		}
	for (const name of options.needs ?? [])
		if (!place.has(name))
			faults.push({ file, row: 1, column: name, message: `the column “${name}” is missing` });
	const extra: [string, number][] = [];
	for (const [name, i] of place) {
		if (names.includes(name)) continue;
		if (isNoKey(name)) faults.push({ file, row: 1, column: name, message: 'a column has another name' });
		else if (
			options.more === true ||
			[...(Array.isArray(options.more) ? options.more : []), ...(options.needs ?? [])].includes(name)
		)
			extra.push([name, i]);
		else
			faults.push({
				file,
				row: 1,
				column: name,
				message: `the column “${name}” is not known; expected ${names.join(', ')}`
			});
	}
	if (place.size !== heading.length) faults.push({ file, row: 1, message: 'a column heading stands twice' });
	if (faults.length > before) return [];
	const readers = names.map((name) => [name, columns[name], place.get(name)] as const);
	const rows: Row<C>[] = [];
	body.forEach((record, i) => {
		const rowNumber = read.rows[i + 1];
		if (record.length !== heading.length) {
			faults.push({
				file,
				row: rowNumber,
				message: `has ${record.length} cells; ${heading.length} were expected`
			});
			return;
		}
		const row: Record<string, unknown> = { rowNumber, more: {} };
		let good = true;
		for (const [name, reader, at] of readers)
			try {
				row[name] = reader(at === undefined ? '' : record[at], calendar);
			} catch (expected) {
				good = false;
				const found = cleaned(at === undefined ? '' : record[at]).slice(0, 100);
				faults.push({
					file,
					row: rowNumber,
					column: name,
					message: `“${found}” was found; ${expected} was expected`
				});
			}
		for (const [name, at] of extra) (row.more as Record<string, string>)[name] = record[at];
		if (good) rows.push(row as Row<C>);
	});
	return rows;
}

/** Writes a table with a heading row; null is an empty cell, yes/no for booleans, numbers in their shortest exact form. */
export function writeTable(headings: readonly string[], rows: Iterable<readonly unknown[]>): string {
	const plain = (v: unknown) =>
		v === null || v === undefined ? '' : typeof v === 'boolean' ? (v ? 'yes' : 'no') : String(v);
	return stringify([headings as string[], ...[...rows].map((row) => row.map(plain))]);
}
