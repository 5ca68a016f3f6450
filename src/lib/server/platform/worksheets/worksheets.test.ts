import ExcelJS from 'exceljs';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { refusalOf } from '../refusal';
import { readCsv } from '../csv';
import { textOfFile } from './worksheets';

async function workbook(make: (book: ExcelJS.Workbook) => void): Promise<Uint8Array> {
	const book = new ExcelJS.Workbook();
	make(book);
	return new Uint8Array(await book.xlsx.writeBuffer());
}
const cellsOf = async (make: (sheet: ExcelJS.Worksheet) => void) => {
	const { content } = await textOfFile('x.xlsx', await workbook((book) => make(book.addWorksheet('List'))));
	return readCsv(content, '\t');
};
const refused = (name: string, bytes: Uint8Array) =>
	textOfFile(name, bytes).then(
		() => null,
		(e) => refusalOf(e)?.message
	);

describe('a workbook as text', () => {
	it('has each kind of value as it would be typed', async () => {
		const { records } = await cellsOf((sheet) => {
			sheet.addRow(['text', 'number', 'date', 'code', 'formula', 'rich', 'link', 'flag', 'error']);
			sheet.addRow([
				'two\nlines and a\ttab',
				0.1 + 0.2,
				new Date(Date.UTC(2026, 1, 28)),
				420,
				{ formula: 'B2*2', result: 0.6 },
				{ richText: [{ text: 'Bow ' }, { text: 'line' }] },
				{ text: 'Yard', hyperlink: 'https://kelpwick.example' },
				true,
				{ error: '#N/A' }
			]);
			sheet.getCell('D2').numFmt = '00000';
			sheet.getCell('C2').numFmt = 'dd.mm.yyyy';
		});
		expect(records[1]).toEqual([
			'two\nlines and a\ttab',
			'0.3',
			'2026-02-28',
			'00420',
			'0.6',
			'Bow line',
			'Yard',
			'TRUE',
			'#N/A'
		]);
	});

	it('has numbers that can be read in one way only', async () => {
		const { records } = await cellsOf((sheet) => {
			sheet.addRow(['amount']);
			for (const v of [1.234, -12.345, 1234567.891, 1e-7, -40100, 1e21, 0]) sheet.addRow([v]);
		});
		expect(records.slice(1).flat()).toEqual([
			'1.2340',
			'-12.3450',
			'1234567.891',
			'0.0000001',
			'-40100',
			'1000000000000000000000',
			'0'
		]);
	});

	it('keeps the rows of the sheet as places, and reads a merged title once', async () => {
		const { records, rows } = await cellsOf((sheet) => {
			sheet.getCell('B5').note = 'drawn beside the cells';
			sheet.getCell('A1').value = 'Balances';
			sheet.mergeCells('A1:B1');
			sheet.getCell('A3').value = '1020';
			sheet.getCell('B3').value = 5;
		});
		expect(records).toEqual([
			['Balances', ''],
			['1020', '5']
		]);
		expect(rows).toEqual([1, 3]);
	});

	it('reads what cells are merged into once, whatever is left under them', async () => {
		const bytes = await workbook((book) =>
			book.addWorksheet('List').addRows([
				['Balances', 'old'],
				['1020', 5]
			])
		);
		const parts = unzipSync(bytes);
		const sheet = 'xl/worksheets/sheet1.xml';
		const merged = '</sheetData><mergeCells count="1"><mergeCell ref="A1:B1"/></mergeCells>';
		parts[sheet] = strToU8(strFromU8(parts[sheet]).replace('</sheetData>', merged));
		const { content } = await textOfFile('x.xlsx', zipSync(parts));
		expect(readCsv(content, '\t').records[0]).toEqual(['Balances', '']);
	});

	it('is the first sheet in sight that holds anything; the others are named', async () => {
		const { content, said } = await textOfFile(
			'x.xlsx',
			await workbook((book) => {
				book.addWorksheet('Empty');
				book.addWorksheet('Hidden', { state: 'hidden' }).addRow(['secret']);
				book.addWorksheet('Members').addRow(['name']);
				book.addWorksheet('Notes').addRow(['of no use']);
			})
		);
		expect(content.trim()).toBe('name');
		expect(said).toBe('Read from the sheet “Members”; left out: “Notes”.');
	});

	it('is refused with the reason where it cannot be read whole', async () => {
		const bare = await workbook((book) => {
			const sheet = book.addWorksheet('Rates');
			sheet.addRow(['rate']);
			sheet.addRow([{ formula: '1/3' } as ExcelJS.CellFormulaValue]);
		});
		expect(await refused('rates.xlsx', bare)).toMatch(
			/^rates\.xlsx has a formula without its value in A2 of “Rates”/
		);
		expect(await refused('e.xlsx', await workbook((b) => b.addWorksheet('E')))).toMatch(
			/no sheet with anything/
		);
		expect(await refused('a.xlsx', zipSync({ 'a.txt': strToU8('x') }))).toMatch(/is no workbook/);
		expect(await refused('cut.xlsx', bare.slice(0, 900))).toMatch(/is damaged/);
		expect(await refused('b.bin', new Uint8Array([0, 1, 2]))).toMatch(/no text file or workbook/);
	});

	it('is refused before it is unpacked where it would fill the memory', async () => {
		const bomb = zipSync(
			{
				'xl/workbook.xml': strToU8('<workbook/>'),
				'xl/worksheets/sheet1.xml': new Uint8Array(65 * 1024 * 1024)
			},
			{ level: 1 }
		);
		expect(bomb.length).toBeLessThan(1_000_000);
		expect(await refused('bomb.xlsx', bomb)).toMatch(/holds more than is taken.*CSV/);
	});

	it('is read beside text, which says its encoding where it is not plain', async () => {
		expect(await textOfFile('a.csv', strToU8('a,b'))).toEqual({ content: 'a,b', said: '' });
		expect((await textOfFile('a.csv', new Uint8Array([0x63, 0xe9]))).said).toMatch(/Windows Western/);
	});
});
