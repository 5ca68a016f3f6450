/** Rows of a scenario's schedules: what stands in their columns, and the departments over which they are divided. */
import { z } from 'zod';
import type { Knex } from 'knex';
import { MOST_ROWS, scheduleRowFaults } from '../../../../core/blocks/schedule/check-rows';
import {
	ColumnValue,
	type ScheduleColumn,
	type ScheduleDefinition,
	type ScheduleRow
} from '../../../../core/blocks/schedule/schema';
import { copyRows, insertRows } from '../../../platform/db/rows';
import * as stored from '../../../platform/db/stored';
import { tableForm } from '../../form';
import type { Reading } from '../../reading';
import type { ScenarioPart } from '../../subject';
import * as cell from '../../table';
import { structureOf } from '../dimensions';
import { rowsFile, SCHEDULE_FORMS } from './schedule-forms';

/** A schedule's rows in their order. */
export interface RowsOf {
	schedule: string;
	rows: ScheduleRow[];
}

const ROWS = tableForm({
	path: 'scenarios/<code>/schedules/<schedule>.csv',
	columns: { id: cell.required, shares: cell.list },
	notes: { shares: 'departments beside its own over which a row is divided, joined by `;`' },
	says: 'a column for each of the schedule’s that is typed: dates as 2027-01-31, shares for percentages, yes or no, codes'
});

export const SCHEDULE_ROWS: ScenarioPart<'scheduleRows', RowsOf[]> = {
	name: 'scheduleRows',
	files: [ROWS],
	travels: 'always',
	read(folder, at) {
		const forms = at.of(SCHEDULE_FORMS);
		const places = new Map<string, number[]>();
		const held = forms.map((form): RowsOf => {
			const file = rowsFile(at.folder, form.code);
			const read = readRows(folder, file, form);
			places.set(form.code, read.places);
			return { schedule: form.code, rows: read.rows };
		});
		const ids = new Map(held.map((h) => [h.schedule, new Set(h.rows.map((r) => r.id))]));
		for (const [i, form] of forms.entries())
			for (const { row, column, message } of scheduleRowFaults(form, held[i].rows, structureOf(folder), ids))
				folder.faults.push({
					file: rowsFile(at.folder, form.code),
					row: places.get(form.code)![row],
					column: column ?? undefined,
					message
				});
		return held;
	},
	write(held, at, folder) {
		const forms = new Map(at.of(SCHEDULE_FORMS).map((f) => [f.code, f]));
		for (const { schedule, rows } of held) {
			const columns = typedColumns(forms.get(schedule)!);
			folder.table(
				ROWS,
				rows.map((row) => ({
					id: row.id,
					shares: (row.shares ?? []).join(';'),
					more: columns.map((c) => written(row.values[c.code]))
				})),
				rowsFile(at.folder, schedule),
				columns.map((c) => c.code)
			);
		}
	},
	async store(trx, scenario, held) {
		for (const { schedule, rows } of held)
			await insertRows(
				trx,
				'schedule_row',
				rows.map((row, position) => ({ scenario, schedule, ...rowToStored(row), position }))
			);
	},
	async load(db, scenario) {
		const bySchedule = rowsFromStored(await storedRows(db, scenario));
		const codes = await stored.texts(
			db('scenario_schedule')
				.join('schedule', 'schedule.code', 'scenario_schedule.schedule')
				.where({ scenario })
				.orderBy('schedule.position')
				.pluck('scenario_schedule.schedule')
		);
		return codes.map((schedule) => ({ schedule, rows: bySchedule.get(schedule) ?? [] }));
	},
	copy: (trx, from, to) => copyRows(trx, 'schedule_row', ['schedule', 'id', 'position', 'content'], from, to)
};

const typedColumns = ({ columns }: ScheduleDefinition): ScheduleColumn[] =>
	columns.filter((c) => c.formula === undefined);

function readRows(
	folder: Reading,
	file: string,
	form: ScheduleDefinition
): { rows: ScheduleRow[]; places: number[] } {
	const columns = typedColumns(form);
	const read = folder.table(ROWS, file, { needs: columns.map((c) => c.code) });
	if (read.length > MOST_ROWS)
		folder.faults.push({ file, message: `has ${read.length} rows; ${MOST_ROWS} are the most` });
	const rows = read.slice(0, MOST_ROWS).map(({ id, shares, more, rowNumber }): ScheduleRow => {
		const values: Record<string, z.output<typeof ColumnValue>> = {};
		for (const column of columns) {
			const text = more[column.code] ?? '';
			if (text === '') continue;
			try {
				values[column.code] = readText(column, text, folder);
			} catch (expected) {
				const message = `“${text}” was found; ${expected} was expected`;
				folder.faults.push({ file, row: rowNumber, column: column.code, message });
			}
		}
		return { id, values, ...(shares.length ? { shares } : {}) };
	});
	return { rows, places: read.map((r) => r.rowNumber) };
}

function readText(column: ScheduleColumn, text: string, folder: Reading): z.output<typeof ColumnValue> {
	switch (column.kind) {
		case 'number':
		case 'money':
		case 'percent':
			return cell.decimal(text, folder.calendar);
		case 'yes-no':
			return cell.yesNo(text, folder.calendar);
		default:
			return text;
	}
}
const written = (value: z.output<typeof ColumnValue> | undefined): string =>
	value === undefined ? '' : typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value);

const Content = z.strictObject({
	values: z.record(z.string(), ColumnValue),
	shares: z.array(z.string()).optional()
});
export const rowToStored = ({ id, ...content }: ScheduleRow) => ({ id, content: JSON.stringify(content) });

/** A row as it is stored: its values and shares as JSON. */
export interface StoredRow {
	schedule: string;
	id: string;
	content: string;
}
/** All rows of a scenario, in order. */
export const storedRows = (db: Knex, scenario: string): Promise<StoredRow[]> =>
	stored.many(
		{ schedule: 'text', id: 'text', content: 'text' },
		db('schedule_row')
			.where({ scenario })
			.orderBy(['schedule', 'position'])
			.select('schedule', 'id', 'content')
	);

const stands = stored.jsonAsItStands(Content);
export const rowFromStored = ({ id, content }: StoredRow): ScheduleRow => ({ id, ...stands.parse(content) });

/** By schedule, in order. */
function rowsFromStored(rows: readonly StoredRow[]): Map<string, ScheduleRow[]> {
	const found = new Map<string, ScheduleRow[]>();
	for (const row of rows) {
		const list = found.get(row.schedule) ?? [];
		found.set(row.schedule, list);
		list.push(rowFromStored(row));
	}
	return found;
}
