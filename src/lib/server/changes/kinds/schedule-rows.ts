/** Rows of schedules that came or went, and what was put into their columns. */
import { z } from 'zod';
import {
	changeRows,
	DIVIDED,
	RowChange,
	rowValue,
	type SetValue
} from '../../../core/blocks/schedule/row-changes';
import { ColumnValue, type ScheduleRow } from '../../../core/blocks/schedule/schema';
import { fromJournal, heldIn } from '../../company/journal';
import { scenarioForms } from '../../scenarios/plan-data';
import { putRows, saveRows, type HeldRow } from '../../schedules/rows';
import { changedSince, type ChangeKind, type Entry, type Names } from './kind';

type OfRow = Entry<'row'> | Entry<'column'>;
const isColumn = (entry: OfRow): entry is Entry<'column'> => entry.about.what === 'column';
const scheduleOf = ({ about }: OfRow) => about.schedule;

type AddedRow = Extract<RowChange, { kind: 'add' }>['row'];
const Held = z.object({
	row: RowChange.options[0].shape.row,
	after: z.string().nullable()
}) as z.ZodType<HeldRow>;

const held = (text: string): ColumnValue | null => (text === '' ? null : fromJournal(text, ColumnValue));

function inWords(text: string, names: Names): string {
	if (text === '') return 'blank';
	const value = heldIn(text, ColumnValue);
	if (value === null) return text;
	if (typeof value === 'boolean') return value ? 'yes' : 'no';
	if (typeof value === 'number') return String(value);
	return names.named(value);
}

export const SCHEDULE_ROWS: ChangeKind<'row' | 'column'> = {
	what: ['row', 'column'],
	words(either, names) {
		const entry = either as OfRow;
		const { before, after } = entry;
		const schedule = scheduleOf(entry);
		if (isColumn(entry)) {
			const { row, column } = entry.about;
			const label = column === DIVIDED ? 'divided with' : names.line(schedule, column);
			return {
				place: `${names.model(schedule)}: ${names.row(schedule, row)}, ${label}`,
				before: inWords(before, names),
				after: inWords(after, names)
			};
		}
		const { id } = entry.about;
		const there = (text: string) => (text === '' ? 'not there' : 'there');
		return {
			place: `${names.model(schedule)}: ${names.row(schedule, id)}`,
			before: there(before),
			after: there(after)
		};
	},
	async undo(within, { scenario, as }, entries) {
		const { schedules } = await scenarioForms(within.db, scenario);
		for (const [schedule, own] of bySchedule(entries as readonly OfRow[])) {
			const now = schedules.find((s) => s.definition.code === schedule);
			if (!now) throw changedSince('The schedule');
			const changes = own.flatMap((entry) => backwards(entry, now.rows));
			if (changeRows(now.rows, changes).conflicts.length) throw changedSince('A row of the schedule');
			await saveRows(within, { scenario, schedule, changes }, as);
		}
	},
	async rewind(trx, { scenario }, entries) {
		for (const [schedule, own] of bySchedule(entries as readonly OfRow[])) {
			const now = (await scenarioForms(trx, scenario)).schedules.find((s) => s.definition.code === schedule);
			if (!now) continue;
			let rows: readonly ScheduleRow[] = now.rows;
			for (const entry of own) rows = changeRows(rows, backwards(entry, rows)).rows;
			await putRows(trx, scenario, now, [...rows]);
		}
	}
};

/** In the order of the entries. */
function bySchedule(entries: readonly OfRow[]): Map<string, OfRow[]> {
	const found = new Map<string, OfRow[]>();
	for (const entry of entries) found.set(scheduleOf(entry), [...(found.get(scheduleOf(entry)) ?? []), entry]);
	return found;
}

/**
 * What takes a change back.
 * @param rows as they are now: a row that was put in goes as a whole only while it is as it was put in
 */
function backwards(entry: OfRow, rows: readonly ScheduleRow[]): RowChange[] {
	const { before, after } = entry;
	if (isColumn(entry)) {
		const { row: id, column } = entry.about;
		return [{ kind: 'set', id, column, before: held(after), value: held(before) } satisfies SetValue];
	}
	const { id } = entry.about;
	if (before !== '') {
		const { row, after: behind } = fromJournal(before, Held);
		return [{ kind: 'add', row: row as AddedRow, after: behind }];
	}
	const put = fromJournal(after, Held).row;
	const now = rows.find((r) => r.id === id);
	const differing = now
		? [...new Set([...Object.keys(put.values), ...Object.keys(now.values), DIVIDED])].filter(
				(c) => rowValue(put, c) !== rowValue(now, c)
			)
		: [];
	// A change that cannot be met says that something is other now.
	if (differing.length)
		return [{ kind: 'set', id, column: differing[0], before: rowValue(put, differing[0]), value: null }];
	return [{ kind: 'remove', id }];
}
