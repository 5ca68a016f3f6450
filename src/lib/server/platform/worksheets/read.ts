/** Reads the cells of a workbook (ECMA-376) as rows of text, the way a list is pasted from a spreadsheet. */
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import ExcelJS from 'exceljs';
import Papa from 'papaparse';

/** A sheet as tab-separated text (RFC 4180 with tabs): each of its rows a line, so that places are the sheet's own. */
export interface SheetText {
	content: string;
	/** The name of the sheet. */
	sheet: string;
	/** Sheets that hold something and were not read. */
	others: string[];
}
/** Why a workbook is not taken, in words that follow its name. */
export interface NotTaken {
	refused: string;
}

/** What a workbook may unpack to, in bytes; some 250,000 rows of six columns. */
const MOST_UNPACKED = 64 * 1024 * 1024;
/** All that cells are made of: pictures, charts and pivots are left packed. */
const PARTS =
	/^(\[Content_Types\]\.xml|_rels\/\.rels|xl\/(workbook|sharedStrings|styles)\.xml|xl\/_rels\/workbook\.xml\.rels|xl\/worksheets\/[^/]+\.xml)$/;

/** The parts of a workbook that cells are made of, packed anew without pressing: nothing can unpack to more than it said. */
function cellParts(bytes: Uint8Array): Uint8Array | NotTaken {
	let size = 0;
	let parts: Record<string, Uint8Array>;
	try {
		parts = unzipSync(bytes, {
			filter: ({ name, originalSize }) => PARTS.test(name) && (size += originalSize) <= MOST_UNPACKED
		});
	} catch {
		return { refused: 'is damaged. Save it anew from the spreadsheet.' };
	}
	if (size > MOST_UNPACKED)
		return { refused: `holds more than is taken from a workbook. Save the sheet as CSV and bring that.` };
	if (!parts['xl/workbook.xml'])
		return { refused: 'is no workbook. Save the list as XLSX or CSV and bring that.' };
	for (const [name, part] of Object.entries(parts))
		if (name.startsWith('xl/worksheets/')) parts[name] = cellsAlone(part);
	return zipSync(parts, { level: 0 });
}

/**
 * Reads the first visible sheet that holds anything. Numbers stand with a decimal point and without thousands, dates as
 * ISO 8601; of formulas the value that the spreadsheet kept.
 */
export async function readWorkbook(bytes: Uint8Array): Promise<SheetText | NotTaken> {
	const parts = cellParts(bytes);
	if ('refused' in parts) return parts;
	const book = new ExcelJS.Workbook();
	try {
		await book.xlsx.load(parts.buffer as ArrayBuffer);
	} catch {
		return { refused: 'is damaged or protected. Save it anew from the spreadsheet, without a password.' };
	}
	const filled = book.worksheets.filter((sheet) => sheet.state === 'visible' && sheet.actualRowCount > 0);
	if (!filled.length) return { refused: 'has no sheet with anything in it.' };
	const [sheet, ...others] = filled;
	const width = sheet.columnCount;
	const rows: string[][] = [];
	for (let r = 1; r <= sheet.rowCount; r++) {
		const row = sheet.findRow(r);
		const cells: string[] = [];
		let filled = false;
		for (let c = 1; row && c <= width; c++) {
			const cell = row.findCell(c);
			const text = cell && (!cell.isMerged || cell.master === cell) ? textOf(cell) : '';
			if (text === null)
				return {
					refused: `has a formula without its value in ${cell!.address} of “${sheet.name}”. Open and save it in the spreadsheet, so that values are kept.`
				};
			if (text !== '') filled = true;
			cells.push(text);
		}
		// A row with nothing in it is an empty line, which readers of lists pass over.
		rows.push(filled ? cells : ['']);
	}
	return {
		content: Papa.unparse(rows, { delimiter: '\t', newline: '\n' }),
		sheet: sheet.name,
		others: others.map((s) => s.name)
	};
}

/** A sheet without what stands behind its cells, such as links and drawings, whose other parts are not read. */
function cellsAlone(sheet: Uint8Array): Uint8Array {
	const end = Buffer.from(sheet.buffer, sheet.byteOffset, sheet.byteLength).indexOf('</sheetData>');
	if (end < 0) return sheet;
	const merged = /<mergeCells[\s>].*?<\/mergeCells>/s.exec(strFromU8(sheet.subarray(end)))?.[0] ?? '';
	return Buffer.concat([sheet.subarray(0, end), strToU8(`</sheetData>${merged}</worksheet>`)]);
}

/** What stands in a cell; null for a formula whose value was not kept. */
function textOf(cell: ExcelJS.Cell): string | null {
	let value = cell.value;
	if (value !== null && typeof value === 'object' && ('formula' in value || 'sharedFormula' in value)) {
		if (value.result === undefined) return null;
		value = value.result;
	}
	if (value === null || value === undefined) return '';
	if (value instanceof Date) return Number.isNaN(+value) ? '' : value.toISOString().slice(0, 10);
	if (typeof value === 'number') return numberText(value, cell.numFmt);
	if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE';
	if (typeof value === 'object') {
		if ('error' in value) return value.error;
		if ('richText' in value) return value.richText.map((part) => part.text).join('');
		if ('text' in value) return typeof value.text === 'string' ? value.text : '';
		return '';
	}
	return value;
}

/** A number in the fifteen digits that a spreadsheet keeps; codes with leading zeros as they are shown. */
function numberText(value: number, format: string | undefined): string {
	if (Number.isInteger(value)) {
		const zeros = /^0{2,20}$/.test(format ?? '') ? format!.length : 0;
		return Math.abs(value) < 1e15 && value >= 0 ? String(value).padStart(zeros, '0') : plain(value);
	}
	const text = plain(Number(value.toPrecision(15)));
	// “1.234” could be read as a thousand and some; “1.2340” cannot.
	return /^-?\d{1,3}\.\d{3}$/.test(text) ? `${text}0` : text;
}

/** Without an exponent. */
function plain(value: number): string {
	if (!String(value).includes('e')) return String(value);
	return Number.isInteger(value) ? BigInt(value).toString() : value.toFixed(20).replace(/\.?0+$/, '');
}
