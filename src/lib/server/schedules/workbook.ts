/** A schedule as a workbook to fill and load again (XLSX, ECMA-376): its rows, an example, and what each column takes. */
import { PassThrough } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import ExcelJS from 'exceljs';
import { withoutPersonal } from '../../core/blocks/schedule/personal';
import { IDENTIFIER } from '../../core/blocks/schedule/row-changes';
import {
	departmentColumn,
	type ColumnValue,
	type ScheduleColumn,
	type ScheduleDefinition,
	type ScheduleRow
} from '../../core/blocks/schedule/schema';
import { aOf } from '../../core/company/counted';
import type { Structure } from '../../core/company/structure';
import { companyFor } from '../company/structure';
import type { Context } from '../platform/context';
import { neutral } from '../reports/variance-file';
import { mustSee } from '../scenarios/scenarios';
import { keptFromIn } from '../scenarios/individual-pay';
import { scheduleIn } from './rows';

/** A heading of the list, and the column it stands for; null for what a row is known by or divided with. */
interface Heading {
	text: string;
	column: ScheduleColumn | null;
}

/** @throws Refusal 403, 404 */
export async function rowsWorkbook(
	context: Context,
	scenario: string,
	schedule: string
): Promise<{ name: string; content: Uint8Array }> {
	const { structure } = await companyFor(context, 'see schedules');
	await mustSee(context, scenario);
	const { definition, rows } = withoutPersonal(
		await scheduleIn(context.db, scenario, schedule),
		await keptFromIn(context, scenario)
	);
	const headings = headingsOf(definition);
	const stream = new PassThrough();
	const written = buffer(stream);
	const book = new ExcelJS.stream.xlsx.WorkbookWriter({ stream, useStyles: true });
	book.creator = 'Yardstave';
	addList(book, definition.name, headings, rows);
	addList(book, 'Example', headings, [exampleOf(definition, structure)]);
	addColumns(book, definition, headings, structure);
	const [content] = await Promise.all([written, book.commit()]);
	return { name: `${schedule}-${scenario}.xlsx`, content };
}

function headingsOf(definition: ScheduleDefinition): Heading[] {
	const own = departmentColumn(definition);
	const typed = definition.columns.filter((c) => c.formula === undefined);
	return [
		{ text: IDENTIFIER, column: null },
		...typed.flatMap((column) => [
			{ text: column.label, column },
			...(definition.divided && column === own ? [{ text: 'Divided with', column: null }] : [])
		])
	];
}

/** What spreadsheets allow in the name of a sheet. */
const sheetName = (name: string) => name.replace(/[*?:\\/[\]]/g, ' ').slice(0, 31);
const FORMATS: Partial<Record<ScheduleColumn['kind'], string>> = {
	date: 'yyyy-mm-dd',
	money: '#,##0.00',
	percent: '0.00%'
};

function addList(
	book: ExcelJS.stream.xlsx.WorkbookWriter,
	name: string,
	headings: readonly Heading[],
	rows: readonly ScheduleRow[]
): void {
	const sheet = book.addWorksheet(sheetName(name), {
		views: [{ state: 'frozen', xSplit: 1, ySplit: 1 }]
	});
	sheet.columns = headings.map(({ text, column }) => ({
		width: Math.max(12, text.length + 2),
		...(column && FORMATS[column.kind] ? { style: { numFmt: FORMATS[column.kind] } } : {})
	}));
	const head = sheet.addRow(headings.map((h) => neutral(h.text)));
	head.font = { bold: true };
	head.commit();
	for (const row of rows)
		sheet
			.addRow(
				headings.map(({ text, column }) =>
					column
						? cellOf(column, row.values[column.code])
						: neutral(text === IDENTIFIER ? row.id : (row.shares ?? []).join('; '))
				)
			)
			.commit();
	sheet.commit();
}

function cellOf({ kind }: ScheduleColumn, value: ColumnValue | undefined) {
	if (value === undefined || value === '') return null;
	if (typeof value === 'number') return value;
	if (typeof value === 'boolean') return value ? 'yes' : 'no';
	return kind === 'date' ? new Date(`${value}T00:00:00Z`) : neutral(value);
}

/** One row in which each column holds something that it takes. */
function exampleOf(definition: ScheduleDefinition, structure: Structure): ScheduleRow {
	const values: Record<string, ColumnValue> = {};
	for (const column of definition.columns)
		if (column.formula === undefined) {
			const value = column.default ?? exampleIn(column, structure);
			if (value !== null) values[column.code] = value;
		}
	return { id: 'E001', values };
}
function exampleIn(
	{ kind, label, choices, dimension }: ScheduleColumn,
	structure: Structure
): ColumnValue | null {
	const { departments, accounts, dimensions } = structure;
	switch (kind) {
		case 'text':
			return label;
		case 'date':
			return '2027-01-31';
		case 'number':
			return 1;
		case 'money':
			return 1200;
		case 'percent':
			return 0.1;
		case 'yes-no':
			return false;
		case 'pick':
			return choices?.[0] ?? null;
		case 'department':
			return departments.all.find((d) => departments.isLeaf(d.code))?.name ?? null;
		case 'account':
			return accounts.all.find((a) => accounts.isLeaf(a.code))?.code ?? null;
		case 'member':
			return dimensions.get(dimension ?? '')?.members.all[0]?.name ?? null;
		default:
			return null;
	}
}

const HOLDS: Record<ScheduleColumn['kind'], string> = {
	text: 'words',
	date: 'a date, such as 2027-01-31',
	number: 'a number',
	money: 'an amount',
	percent: 'a percentage: 13.8%, or 0.138',
	pick: 'one of',
	'yes-no': 'yes or no',
	account: 'an account, by its code or name',
	department: 'a department, by its code or name',
	member: 'a member, by its code or name:',
	row: 'what a row of another schedule is known by:'
};
/** So many of what can be chosen are listed. */
const MOST_LISTED = 60;

function allowed({ kind, choices, dimension, schedule }: ScheduleColumn, structure: Structure): string {
	const { departments, dimensions } = structure;
	const list = (names: readonly string[]) =>
		names.slice(0, MOST_LISTED).join(', ') + (names.length > MOST_LISTED ? ' and others' : '');
	switch (kind) {
		case 'pick':
			return `${HOLDS.pick} ${list(choices ?? [])}`;
		case 'department':
			return `${HOLDS.department}: ${list(departments.all.filter((d) => departments.isLeaf(d.code)).map((d) => d.name))}`;
		case 'member':
			return `${HOLDS.member} ${list((dimensions.get(dimension ?? '')?.members.all ?? []).map((m) => m.name))}`;
		case 'row':
			return `${HOLDS.row} ${schedule ?? ''}`;
		default:
			return HOLDS[kind];
	}
}

/** What each column takes, a row for each. */
function addColumns(
	book: ExcelJS.stream.xlsx.WorkbookWriter,
	definition: ScheduleDefinition,
	headings: readonly Heading[],
	structure: Structure
): void {
	const sheet = book.addWorksheet('Columns');
	sheet.columns = [26, 12, 70, 30].map((width) => ({ width }));
	const head = sheet.addRow(['Column', 'Needed', 'What it takes', 'Limits']);
	head.font = { bold: true };
	head.commit();
	const labelOf = (limit: number | string | undefined) =>
		definition.columns.find((c) => c.code === limit)?.label ?? limit;
	for (const { text, column } of headings) {
		const own = column
			? [column.required ? 'yes' : 'no', allowed(column, structure)]
			: text === IDENTIFIER
				? [
						'yes',
						`what ${aOf(definition.one)} is known by: a number or any other word, the same in every file. One that is there is changed, another is added.`
					]
				: ['no', 'further departments, with ; between them'];
		const limits = column
			? [
					...(column.least === undefined ? [] : [`not below ${labelOf(column.least)}`]),
					...(column.most === undefined ? [] : [`not above ${labelOf(column.most)}`])
				].join(', ')
			: '';
		sheet.addRow([text, ...own, limits].map(neutral)).commit();
	}
	sheet.addRow([]).commit();
	sheet
		.addRow([
			`A cell that is left empty stays as it is; each ${definition.one} that is not in the list stays too.`
		])
		.commit();
	sheet.commit();
}
