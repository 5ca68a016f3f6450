/** What of a schedule's figures is other once rows and months of it are changed. */
import { PLACING } from '../blocks/schedule/personal';
import { DIVIDED, changeRows, rowValue, type RowChange } from '../blocks/schedule/row-changes';
import {
	departmentColumn,
	SHARE_IN_FORCE,
	sharesCode,
	type ScenarioSchedule,
	type ScheduleDefinition,
	type ScheduleRow
} from '../blocks/schedule/schema';
import { sameSides, targetOf, targetsOf } from '../blocks/schedule/postings';
import { codeIn } from '../blocks/schedule/shape';
import type { Structure } from '../company/structure';
import type { Cell } from '../engine/values';
import type { TypedCell } from '../inputs/cell';
import type { ScenarioData } from '../scenario/data';
import type { Plan } from '../scenario/plan';
import { tryTyped, type TypedValue } from '../scenario/type-cells';
import { sharesIn } from './schedule-shares';
import {
	faultsIn,
	scheduleFigures,
	type ScheduleFigures,
	type ScheduleQuery,
	type ScheduleViewRow
} from './schedule-view';

/** What is changed and not saved. */
export interface ScheduleEdits {
	rows: readonly RowChange[];
	months: readonly TypedCell[];
}

/** What differs from the saved figures. Rows that cannot be placed yet, without a department, are not among them. */
export interface ScheduleChanges extends Omit<ScheduleFigures, 'rows'> {
	/** Rows that are new, or show something else. */
	rows: ScheduleViewRow[];
}

/** Rows of saved figures, by key, and what they are known by. */
export interface Shown {
	of: ScheduleFigures;
	before: ReadonlyMap<string, ScheduleViewRow>;
	/** Those with errors in their cells: how many. */
	faulty: ReadonlyMap<ScheduleViewRow, number>;
	ids: ReadonlySet<string>;
}
export const shownAs = (of: ScheduleFigures): Shown => ({
	of,
	before: new Map(of.rows.map((r) => [r.key, r])),
	faulty: new Map(of.rows.map((r) => [r, faultsIn(r)] as const).filter(([, count]) => count)),
	ids: new Set(of.rows.map((r) => r.id))
});

/** @param shown the same query's rows as they are saved */
export function changesFrom({ rows, ...all }: ScheduleFigures, { before }: Shown): ScheduleChanges {
	return {
		...all,
		rows: rows.filter((r) => {
			const was = before.get(r.key);
			return r !== was && !sameRow(r, was);
		})
	};
}

/**
 * Which rows may show something else than they are saved with, standing where they are saved.
 * @param plan calculated with what is typed
 * @param line that is shown; null where it is not known
 */
export function touchedRows(
	plan: Plan,
	saved: ScenarioSchedule,
	rows: readonly ScheduleRow[],
	months: readonly TypedCell[],
	line: string | null
): (row: number) => boolean {
	const { calculation } = plan;
	const { definition } = saved;
	const { code, columns, lines, divided } = definition;
	const typed = new Set(months.map((m) => m.row.split('|')[0]));
	let [lo, hi] = [Infinity, -Infinity];
	const reach = (block: string, own: string, rowAt: (place: number) => number) => {
		const at = calculation.has(block, own) ? calculation.reachOf(block, own) : null;
		if (!at || at.hi <= at.lo) return;
		lo = Math.min(lo, rowAt(at.lo));
		hi = Math.max(hi, rowAt(at.hi - 1) + 1);
	};
	// Which line is shown where none is asked for is not known here: all of them then.
	const shown = line === null ? lines.map((l) => l.code) : [line];
	for (const own of [...columns.map((c) => c.code), ...shown]) reach(code, own, (place) => place);
	if (divided) {
		const { of } = sharesIn(plan, { definition, rows });
		reach(sharesCode(code), SHARE_IN_FORCE, (place) => of[Math.min(place, of.length - 1)]);
	}
	return (row) => (row >= lo && row < hi) || rows[row] !== saved.rows[row] || typed.has(rows[row].id);
}

/** Columns by which a scenario's adjustments tell rows apart. */
export const askedBy = ({ adjustments = [] }: Pick<ScenarioData, 'adjustments'>): string[] =>
	adjustments.flatMap((a) => a.steps.flatMap((s) => Object.keys(s.where)));

/** What a query shows of a schedule that the plan has, as it is saved. */
export function shownSaved(plan: Plan, query: ScheduleQuery): Shown {
	const { rows } = plan.schedules.get(query.schedule)!;
	return shownAs(scheduleFigures(plan, query, new Map(rows.map((r) => [r.id, r]))));
}

/**
 * What differs from the saved figures with these changes made, tried on a plan that is left as it was.
 * @param shown what the query shows of the plan
 * @param asked columns by which the scenario's adjustments tell rows apart
 * @param most is not tried where it would take longer, in nanoseconds at the worst
 * @returns null where it is not tried, or has to be put together anew: rows come, go, stand elsewhere, or are not what
 * they were when they were read
 */
export function tryRows(
	plan: Plan,
	{ rows: changes, months }: ScheduleEdits,
	query: ScheduleQuery,
	shown: Shown,
	asked: readonly string[],
	most: number
): ScheduleChanges | null {
	const saved = plan.schedules.get(query.schedule)!;
	const { definition } = saved;
	const { rows, conflicts } = changeRows(saved.rows, changes);
	if (conflicts.length || !samePlaces(saved, saved.rows, rows, asked)) return null;
	if (!rows.every((row, i) => row === saved.rows[i] || isPlaced(definition, row, plan.structure)))
		return null;
	const values = rows.flatMap((row, i): TypedValue[] => {
		const was = saved.rows[i];
		if (row === was) return [];
		return definition.columns.flatMap(({ code, formula }) => {
			const value = rowValue(row, code);
			const other = formula === undefined && value !== rowValue(was, code);
			return other ? [{ schedule: definition.code, row: row.id, column: code, value }] : [];
		});
	});
	const was = new Map(saved.rows.map((r) => [r.id, r]));
	// Names and texts are those that are typed.
	const schedules = new Map([...plan.schedules, [query.schedule, { definition, rows }] as const]);
	return tryTyped(
		plan,
		{ cells: months, values },
		() => {
			const touched = touchedRows(plan, saved, rows, months, query.line ?? null);
			const steady = { ...shown, touched };
			return changesFrom(scheduleFigures({ ...plan, schedules }, query, was, shown.ids, steady), shown);
		},
		most
	);
}

/** Whether what a row comes to has accounts and departments to go to: somebody may just have begun to type it. */
export function isPlaced(definition: ScheduleDefinition, row: ScheduleRow, structure: Structure): boolean {
	const { departments, accounts } = structure;
	const department = departmentColumn(definition);
	const at = department && codeIn(row, department.code);
	return (
		(at === undefined || (at !== '' && departments.isLeaf(at))) &&
		targetsOf(definition).every((to) => {
			const account = targetOf(definition, to, row, structure);
			return account !== '' && accounts.isLeaf(account);
		}) &&
		sameSides(definition, row, structure) === null
	);
}

/**
 * Whether the rows are as many, known by the same, and stand in the same departments, members and accounts.
 * @param asked other columns that have to be the same
 */
export function samePlaces(
	{ definition }: ScenarioSchedule,
	a: readonly ScheduleRow[],
	b: readonly ScheduleRow[],
	asked: readonly string[]
): boolean {
	if (a.length !== b.length) return false;
	const placing = definition.columns
		.filter((c) => PLACING.has(c.kind) || asked.includes(c.code))
		.map((c) => c.code);
	return b.every(
		(row, i) =>
			row === a[i] ||
			(row.id === a[i].id && [...placing, DIVIDED].every((c) => rowValue(row, c) === rowValue(a[i], c)))
	);
}

function sameRow(a: ScheduleViewRow, b: ScheduleViewRow | undefined): boolean {
	if (!b) return false;
	const same = (x: readonly Cell[], y: readonly Cell[]) => x.every((c, i) => c === y[i]);
	return (
		a.label === b.label &&
		a.open === b.open &&
		same(a.cells, b.cells) &&
		JSON.stringify([a.computed, a.adjusted, a.unshared]) ===
			JSON.stringify([b.computed, b.adjusted, b.unshared])
	);
}
