/** Rows of a schedule from a list or a workbook: every difference first, faults at row and column, all of it or nothing. */
import ExcelJS from 'exceljs';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { readCompany, readStored, storeCompany } from '../../src/lib/server/company/subjects';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { readWorkbook } from '../../src/lib/server/platform/worksheets/read';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { importRows } from '../../src/lib/server/schedules/import';
import { rowsWorkbook } from '../../src/lib/server/schedules/workbook';
import { refusedIn, userOf } from '../support/company';
import { F2, rentalFiles } from '../support/rentals';

let db: Knex;
let ana: User;
beforeEach(async () => {
	db = await openDatabase(':memory:');
	await storeCompany(db, readCompany(rentalFiles()));
	ana = await userOf(db, 'ana');
});
afterEach(() => db.destroy());

const load = (lines: string[], dry = false) =>
	importRows({ db, user: ana }, 'rentals', { scenario: F2, text: lines.join('\n'), dry });
const rows = async () =>
	(await readStored(db)).scenarios.find((s) => s.scenario.code === F2)!.scheduleRows[0].rows;
const book = async () => {
	const { content } = await rowsWorkbook({ db, user: ana }, F2, 'rentals');
	const found = new ExcelJS.Workbook();
	await found.xlsx.load(Buffer.from(content).buffer as ArrayBuffer);
	return { content, found };
};

describe('a list of rows', () => {
	const LIST = [
		'ID;What;Department;A year;From;Indexed;Divided with',
		'r1;Microscope;Laboratory;1.300,50;1.1.2026;;',
		'r9;Centrifuge;labor;600,00;15.06.2026;no;Praxis'
	];
	it('has what stands in several columns read as each of them takes it', async () => {
		await load([
			'ID;What;Department;A year;From;Indexed',
			'r9;1;Laboratory;1;1.1.2026;1',
			'r10;1;labor;1;1.1.2026;no'
		]);
		const found = (await rows()).filter((r) => ['r9', 'r10'].includes(r.id));
		const plain = { what: '1', yearly: 1, start: '2026-01-01' };
		expect(found.map((r) => r.values)).toMatchObject([
			{ ...plain, indexed: true },
			{ ...plain, indexed: false }
		]);
	});
	it('shows what it would change and add, and which rows it does not have, before it is taken', async () => {
		const before = await rows();
		const found = await load(LIST, true);
		expect(found).toEqual({
			read: 2,
			changes: [
				{ id: 'r9', differences: null },
				{ id: 'r1', differences: [{ column: 'A year', before: '1200', after: '1300.5' }] }
			],
			missing: ['r2']
		});
		expect(await rows()).toEqual(before);
		await load(LIST);
		const [first, second, third] = await rows();
		expect([first.values.yearly, first.values.indexed, second]).toEqual([1300.5, true, before[1]]);
		expect(third).toEqual({
			id: 'r9',
			values: { what: 'Centrifuge', home: 'labor', yearly: 600, start: '2026-06-15', indexed: false },
			shares: ['praxis']
		});
		expect((await load(LIST)).changes).toEqual([]);
		const [save] = await savesOf({ db, user: ana }, F2);
		await undoSave({ db, user: ana }, F2, save.batch);
		expect(await rows()).toEqual(before);
	});
	it('is refused with row and heading of each mistake, and nothing is half done', async () => {
		const before = await rows();
		const fault = async (...lines: string[]) => {
			const refused = await refusedIn(db, load(lines));
			expect([refused.status, await rows()]).toEqual([422, before]);
			return refused.faults.map((f) => `${f.row} ${f.column ?? ''}: ${f.message}`).join('\n');
		};
		expect(await fault('What,A year', 'X,1')).toMatch(/^1 : a column “id” is missing/);
		expect(await fault('id,Colour,What,what', 'r1,red,,')).toBe(
			'1 : there is no column “Colour”\n1 : “what” stands twice'
		);
		expect(await fault('id,From,A year', 'r1,31.02.2026,', 'r2,soon,much', ',,5', 'r1,,7')).toBe(
			[
				'3 From: “soon” is no date such as 2027-01-31',
				'3 A year: “much” is no number',
				'4 id: an identifier is missing',
				'5 id: “r1” stands in row 2 too'
			].join('\n')
		);
		expect(await fault('id,From', 'r1,31.02.2026')).toBe(
			'2 From: “2026-02-31” is no date such as 2027-01-31'
		);
		expect(await fault('id,Until', 'r1,', 'r2,2026-04-01')).toBe('3 Until: “Until” is before “From”');
		expect(await fault('id,Department', 'r1,Garage')).toBe('2 Department: there is no department “Garage”');
		expect(await fault('id,What', 'n1,Stool')).toMatch(/^2 Department: “Department” is missing/);
		expect(await fault('id,Indexed', 'r1,perhaps')).toBe('2 Indexed: “perhaps” is neither yes nor no');
		expect(await fault('id,What', 'r1,"open')).toMatch(/a quotation mark opens/);
	});
	it('is of no use to those who may not see rows', async () => {
		const rita = await userOf(db, 'rita');
		const list = { scenario: F2, text: 'id\nr1', dry: true };
		expect((await refusedIn(db, importRows({ db, user: rita }, 'rentals', list))).status).toBe(403);
		expect((await refusedIn(db, rowsWorkbook({ db, user: rita }, F2, 'rentals'))).status).toBe(403);
	});
});

describe('the workbook to fill', () => {
	it('has the rows that are there, an example, and what each column takes', async () => {
		const { found } = await book();
		expect(found.worksheets.map((s) => s.name)).toEqual(['Rentals', 'Example', 'Columns']);
		const [list, example, columns] = found.worksheets;
		const texts = (sheet: ExcelJS.Worksheet, row: number) =>
			(sheet.getRow(row).values as unknown[])
				.slice(1)
				.map((v) => (v instanceof Date ? v.toISOString().slice(0, 10) : v));
		expect(texts(list, 1)).toEqual([
			'id',
			'What',
			'Department',
			'Divided with',
			'A year',
			'From',
			'Until',
			'Paid by',
			'Indexed'
		]);
		expect(texts(list, 3)).toEqual([
			...['r2', 'X-ray room', 'labor', 'praxis', 24_000],
			...['2026-05-01', '2026-12-31', undefined, 'no']
		]);
		expect(texts(example, 2)[1]).toBe('What');
		const told = Array.from({ length: columns.rowCount }, (_, i) => texts(columns, i + 1).join(' | '));
		expect(told.find((t) => t.startsWith('Until'))).toMatch(
			/no \| a date, such as 2027-01-31 \| not below From/
		);
		expect(told.find((t) => t.startsWith('Department'))).toMatch(/yes \| a department, .*Laboratory/);
	});
	it('changes nothing when it is loaded as it is', async () => {
		const { content } = await book();
		const read = await readWorkbook(content);
		const list = 'content' in read ? read.content : '';
		expect(await load([list], true)).toEqual({ read: 2, changes: [], missing: [] });
	});
});
