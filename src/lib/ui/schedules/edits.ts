/** What is typed into a schedule's grid and not saved, as it is sent: rows put in and taken out, values, months. */
import {
	SHARE,
	sharesCode,
	type ScheduleColumn,
	type ScheduleDefinition
} from '../../core/blocks/schedule/schema';
import type { RowChange } from '../../core/blocks/schedule/row-changes';
import { DIVIDED } from '../../core/blocks/schedule/row-changes';
import type { Calendar } from '../../core/calendar/calendar';
import type { CellEdit, TypedCell, Written } from '../../core/inputs/cell';
import { cellKey, cellPlace } from '../entry/cell-key';
import type { Entered } from '../grid/entered';
import type { Edit } from '../grid/editing/edits.svelte';

/** Stands for a column that says whether a row is there. */
export const PRESENCE = '@row';

export interface SentRows {
	changes: RowChange[];
	edits: Written<CellEdit>[];
}

type Typed = Edit<Entered>;
const isAdded = (e: Typed) => e.column === PRESENCE && e.before === null && e.value === true;
const isRemoved = (e: Typed) => e.column === PRESENCE && e.before === true && e.value === null;

/** Rows that are put in, and that are taken out, by what they are known by. */
export const addedIn = (edits: readonly Typed[]): string[] => edits.filter(isAdded).map((e) => e.row);
export const removedIn = (edits: readonly Typed[]): Set<string> =>
	new Set(edits.filter(isRemoved).map((e) => e.row));

/** A row that is put in, with the columns that it cannot be saved without and that are still blank. */
export interface Lacking {
	id: string;
	columns: readonly ScheduleColumn[];
}
/** @param standing what stands in a column of a row now */
export const lackingIn = (
	{ columns }: ScheduleDefinition,
	added: readonly string[],
	standing: (id: string, column: string) => Entered
): Lacking[] => {
	const required = columns.filter((c) => c.required && c.formula === undefined);
	return added
		.map((id) => ({ id, columns: required.filter((c) => standing(id, c.code) === null) }))
		.filter((lacking) => lacking.columns.length > 0);
};

/** The block in which a line of a schedule is typed. */
export const blockOfLine = (schedule: string, line: string): string =>
	line === SHARE ? sharesCode(schedule) : schedule;

/** @param after of a row that is put in, the one that it follows */
export function sentOf(
	schedule: string,
	calendar: Calendar,
	edits: readonly Typed[],
	after: ReadonlyMap<string, string | null>
): SentRows {
	const [added, removed] = [new Set(addedIn(edits)), removedIn(edits)];
	const sent: SentRows = { changes: [], edits: [] };
	const begun = new Map<string, Extract<RowChange, { kind: 'add' }>>();
	const begin = (id: string) => {
		if (begun.has(id)) return;
		const follows = after.get(id);
		const change = {
			kind: 'add' as const,
			row: { id, values: {} },
			...(follows === undefined ? {} : { after: follows })
		};
		begun.set(id, change);
		// The one that it follows has to be there.
		if (typeof follows === 'string' && added.has(follows)) begin(follows);
		sent.changes.push(change);
	};
	for (const id of added) begin(id);
	for (const { row, column, before, value } of edits) {
		if (calendar.parse(column) !== null) {
			const { line, row: id } = cellPlace(row);
			if (removed.has(id.split('|')[0])) continue;
			sent.edits.push({
				block: blockOfLine(schedule, line),
				line,
				row: id,
				period: column,
				before: before as number | null,
				value: value as number | null
			});
		} else if (column === PRESENCE) {
			if (removed.has(row)) sent.changes.push({ kind: 'remove', id: row });
		} else if (added.has(row)) {
			if (value === null) continue;
			const own = begun.get(row)!.row;
			if (column === DIVIDED) own.shares = String(value).split(';');
			else own.values[column] = value;
		} else if (!removed.has(row)) sent.changes.push({ kind: 'set', id: row, column, before, value });
	}
	return sent;
}

/** Months as the calculation takes them. */
export const typedMonths = (calendar: Calendar, edits: readonly Written<CellEdit>[]): TypedCell[] =>
	edits.map(({ block, line, row, period, value }) => ({
		block,
		line,
		row,
		period: calendar.parse(period)!,
		value
	}));

/** Whether an edit is of a row of the schedule: in its columns, or in months of its lines and shares. */
export const isOf = ({ row, column }: Typed, id: string, calendar: Calendar): boolean =>
	row === id || (calendar.parse(column) !== null && cellPlace(row).row.split('|')[0] === id);

/** The edits that make of what is typed for a new row the same for one that is known by something else. */
export function renamed(edits: readonly Typed[], id: string, to: string, calendar: Calendar): Typed[] {
	const own = edits.filter((e) => isOf(e, id, calendar));
	const rowOf = (row: string) => {
		if (row === id) return to;
		const { line, row: place } = cellPlace(row);
		return cellKey(line, to + place.slice(id.length));
	};
	return [...own.map((e) => ({ ...e, value: e.before })), ...own.map((e) => ({ ...e, row: rowOf(e.row) }))];
}
