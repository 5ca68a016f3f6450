/** Rows of a schedule's grid: as they are saved, without those taken out, with those put in where they are wanted. */
import type { ScheduleViewRow } from '../../core/views/schedule-view';
import type { GridRow } from '../grid/types';

const UNDER: readonly ScheduleViewRow['kind'][] = ['share', 'line'];
/** Whether a row stands under one of the schedule: a line or a share of it. */
export const isUnder = ({ kind }: ScheduleViewRow): boolean => UNDER.includes(kind);

export interface RowsSource {
	saved: readonly ScheduleViewRow[];
	/** Rows that are new or other by what is typed, by key. */
	changed: ReadonlyMap<string, ScheduleViewRow>;
	/** What rows are known by: those put in, each with the one that it follows, and those taken out. */
	added: readonly string[];
	after: ReadonlyMap<string, string | null>;
	removed: ReadonlySet<string>;
}

/** @param gridRow a row by its key, without those under it */
export function gridRows(
	{ saved, changed, added, after, removed }: RowsSource,
	gridRow: (key: string) => GridRow
): GridRow[] {
	const there = new Set([...saved.map((r) => r.id), ...added]);
	/** Rows put in, by the one that they follow; those that follow none that is in sight stand at the end. */
	const waiting = new Map<string | null, string[]>();
	for (const id of added) {
		const follows = after.get(id) ?? null;
		const at = follows !== null && there.has(follows) ? follows : null;
		waiting.set(at, [...(waiting.get(at) ?? []), id]);
	}
	const savedKeys = new Set(saved.map((r) => r.key));
	const underOf = new Map<string, string[]>();
	const fresh = [...changed.values()].filter((r) => !savedKeys.has(r.key));
	for (const row of [...saved, ...fresh])
		if (isUnder(row)) underOf.set(row.id, [...(underOf.get(row.id) ?? []), row.key]);
	const out: GridRow[] = [];
	let into = out;
	const put = (id: string) => {
		const under = underOf.get(id)?.map(gridRow);
		if (!removed.has(id)) into.push({ ...gridRow(id), ...(under ? { rows: under } : {}) });
		for (const next of waiting.get(id) ?? []) put(next);
	};
	for (const row of saved)
		if (row.kind === 'group') {
			into = [];
			out.push({ ...gridRow(row.key), rows: into });
		} else if (row.kind === 'row') put(row.id);
	into = out;
	for (const id of waiting.get(null) ?? []) put(id);
	return out;
}

/**
 * The same rows, with those of before in the place of equal ones; where all are, the very list of before. So a grid of thousands
 * is not laid anew for a figure that changes in it.
 */
export function steadyRows(before: GridRow[], next: GridRow[]): GridRow[] {
	const former = new Map(before.map((row) => [row.key, row]));
	const rows = next.map((row) => {
		const own = former.get(row.key);
		if (!own) return row;
		const under = row.rows && steadyRows(own.rows ?? [], row.rows);
		return sameRow(own, row) && own.rows === under ? own : { ...row, ...(under ? { rows: under } : {}) };
	});
	return rows.length === before.length && rows.every((row, i) => row === before[i]) ? before : rows;
}
/** Rows as they are saved, and each of them by its key. */
export interface LaidRows {
	rows: GridRow[];
	at: ReadonlyMap<string, GridRow>;
}
export function laid(rows: GridRow[]): LaidRows {
	const at = new Map<string, GridRow>();
	const put = (row: GridRow) => {
		at.set(row.key, row);
		row.rows?.forEach(put);
	};
	rows.forEach(put);
	return { rows, at };
}

/** Whether what is typed makes none of these rows another one, nor brings one, so that only figures in them are other. */
export const staysLaid = (
	{ at }: LaidRows,
	changed: ReadonlyMap<string, ScheduleViewRow>,
	gridRow: (key: string) => GridRow
): boolean =>
	[...changed.keys()].every((key) => {
		const row = at.get(key);
		return row !== undefined && sameRow(row, gridRow(key));
	});

/** But for what stands under them. */
function sameRow(a: GridRow, b: GridRow): boolean {
	const keys = (row: GridRow) =>
		(Object.keys(row) as (keyof GridRow)[]).filter((key) => key !== 'rows' && row[key] !== undefined);
	const own = keys(a);
	return own.length === keys(b).length && own.every((key) => Object.is(a[key], b[key]));
}
