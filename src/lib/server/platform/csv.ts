/** Reading CSV (RFC 4180), by any sign between cells. */
import Papa from 'papaparse';
import { Refusal } from './refusal';

export interface Csv {
	/** Cells as text, row by row; the heading is the first. Empty lines are left out. */
	records: string[][];
	/** The row of each record in the file, as a spreadsheet counts: 1 is the first. */
	rows: number[];
}

/** Why a text is no CSV, and in which row. */
export class NotCsv extends Error {
	constructor(
		message: string,
		readonly row: number
	) {
		super(message);
	}
}

const WORDS: Partial<Record<Papa.ParseError['code'], string>> = {
	MissingQuotes: 'a quotation mark opens a cell that none closes',
	InvalidQuotes: 'something stands behind the quotation mark that closes a cell'
};

const SIGNS = [',', ';', '\t', '|'];

/** Signs that may stand between cells, first the one that the first line with anything in it has most of. */
export function delimitersOf(content: string): string[] {
	const first = /[^\r\n]+/.exec(content)?.[0] ?? '';
	return SIGNS.map((sign) => ({ sign, count: first.split(sign).length }))
		.sort((a, b) => b.count - a.count)
		.map(({ sign }) => sign);
}
export const delimiterOf = (content: string): string => delimitersOf(content)[0];

/** @throws NotCsv where quotation marks do not pair */
export function readCsv(content: string, delimiter = ','): Csv {
	const { data, errors } = Papa.parse<string[]>(content, { delimiter });
	const [wrong] = errors.filter((e) => e.type === 'Quotes');
	if (wrong) throw new NotCsv(WORDS[wrong.code] ?? wrong.message, (wrong.row ?? 0) + 1);
	const csv: Csv = { records: [], rows: [] };
	for (const [i, record] of data.entries()) {
		if (record.length === 1 && record[0] === '') continue;
		csv.records.push(record);
		csv.rows.push(i + 1);
	}
	return csv;
}

/** A list that somebody pastes or brings, whatever stands between its cells. @throws Refusal 422 with the row, and `words` */
export function tableIn(text: string, words: string): Csv {
	try {
		return readCsv(text.replace(/^\ufeff/, ''), delimiterOf(text));
	} catch (e) {
		if (!(e instanceof NotCsv)) throw e;
		throw new Refusal(422, words, [{ row: e.row, message: e.message }]);
	}
}
