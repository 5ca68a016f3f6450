/** Changes of a schedule's rows as plain data: put in, taken out, one value of one row set. */
import { z } from 'zod';
import { ColumnValue, type ScheduleRow } from './schema';

/** Beside the columns of a schedule: the departments over which a row is divided, joined by `;`. */
export const DIVIDED = 'shares';
/** The column that stands for what a row is known by. */
export const IDENTIFIER = 'id';

const Id = z.string().max(200);
const Content = z.strictObject({
	id: Id,
	values: z.record(z.string().max(64), ColumnValue),
	shares: z.array(z.string().max(64)).max(200).optional()
});

export const RowChange = z.discriminatedUnion('kind', [
	/** `after`: the row that it follows; null puts it first, and without it it stands at the end. */
	z.strictObject({ kind: z.literal('add'), row: Content, after: Id.nullable().optional() }),
	z.strictObject({ kind: z.literal('remove'), id: Id }),
	/** `before`: what stood there when it was read; null is blank. */
	z.strictObject({
		kind: z.literal('set'),
		id: Id,
		column: z.string().max(64),
		before: ColumnValue.nullable(),
		value: ColumnValue.nullable()
	})
]);
export type RowChange = z.infer<typeof RowChange>;
export type SetValue = Extract<RowChange, { kind: 'set' }>;

/** A change that does not meet what it was made for. */
export type RowConflict =
	/** Somebody else has put another value there. */
	| { kind: 'differs'; change: SetValue; theirs: ColumnValue | null }
	/** The row is not there any more. */
	| { kind: 'gone'; id: string }
	/** A row of that identifier is there already. */
	| { kind: 'taken'; id: string };

/** What stands in a column of a row; null is blank. */
export function rowValue(row: ScheduleRow, column: string): ColumnValue | null {
	if (column === DIVIDED) return row.shares?.length ? row.shares.join(';') : null;
	const value = Object.hasOwn(row.values, column) ? row.values[column] : undefined;
	return value === undefined || value === '' ? null : value;
}

/** A row with another value; null makes it blank. */
export function withValue(row: ScheduleRow, column: string, value: ColumnValue | null): ScheduleRow {
	const blank = value === null || value === '';
	if (column === DIVIDED) {
		const shares = blank
			? []
			: String(value)
					.split(';')
					.map((code) => code.trim())
					.filter((code) => code !== '');
		return { id: row.id, values: row.values, ...(shares.length ? { shares } : {}) };
	}
	const values = { ...row.values };
	if (blank) delete values[column];
	else values[column] = value;
	return { ...row, values };
}

/** One after the other; rows that nothing is said of are the very same. Where there are conflicts, `rows` are of no use. */
export function changeRows(
	rows: readonly ScheduleRow[],
	changes: readonly RowChange[]
): { rows: ScheduleRow[]; conflicts: RowConflict[] } {
	const conflicts: RowConflict[] = [];
	const by = new Map(rows.map((row) => [row.id, row]));
	// Rows that stay where they are need no order of their own.
	const moves = changes.some((c) => c.kind !== 'set');
	const order = chained(moves ? rows.map((row) => row.id) : []);
	for (const change of changes) {
		if (change.kind === 'add') {
			const { row, after } = change;
			if (by.has(row.id)) {
				conflicts.push({ kind: 'taken', id: row.id });
				continue;
			}
			by.set(row.id, row);
			order.put(row.id, after);
			continue;
		}
		const row = by.get(change.id);
		if (!row) conflicts.push({ kind: 'gone', id: change.id });
		else if (change.kind === 'remove') {
			by.delete(change.id);
			order.take(change.id);
		} else {
			const theirs = rowValue(row, change.column);
			if (theirs === change.value) continue;
			if (theirs !== change.before) conflicts.push({ kind: 'differs', change, theirs });
			else by.set(change.id, withValue(row, change.column, change.value));
		}
	}
	return { rows: moves ? order.list().map((id) => by.get(id)!) : [...by.values()], conflicts };
}

/** An order in which each one knows its neighbours: thousands are put in and taken out without moving the others. */
function chained(ids: readonly string[]) {
	/** The ends are one place, between the last and the first. */
	const END = null;
	const next = new Map<string | null, string | null>();
	const before = new Map<string | null, string | null>();
	const join = (a: string | null, b: string | null) => {
		next.set(a, b);
		before.set(b, a);
	};
	[END, ...ids].forEach((id, i, all) => join(id, all[i + 1] ?? END));
	return {
		/** Behind one that is there, or first for null; else at the end. */
		put(id: string, after: string | null | undefined) {
			const place = after !== undefined && next.has(after) ? after : before.get(END)!;
			const following = next.get(place)!;
			join(place, id);
			join(id, following);
		},
		take(id: string) {
			join(before.get(id)!, next.get(id)!);
			next.delete(id);
			before.delete(id);
		},
		list(): string[] {
			const found: string[] = [];
			for (let id = next.get(END)!; id !== END; id = next.get(id)!) found.push(id);
			return found;
		}
	};
}
