/** Workbooks as people bring them. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import ExcelJS from 'exceljs';

/** Writes a workbook of one sheet into a folder. @returns its path */
export async function workbookIn(folder: string, name: string, rows: readonly unknown[][]): Promise<string> {
	const book = new ExcelJS.Workbook();
	const sheet = book.addWorksheet('List');
	for (const row of rows) sheet.addRow([...row]);
	const path = join(folder, name);
	writeFileSync(path, new Uint8Array(await book.xlsx.writeBuffer()));
	return path;
}
