/** Rows of a scenario's schedules: put in, taken out and changed, with what is typed in their months. */
import type { Knex } from 'knex';
import { scheduleRowFaults } from '../../core/blocks/schedule/check-rows';
import {
	changeRows,
	DIVIDED,
	type RowChange,
	type RowConflict
} from '../../core/blocks/schedule/row-changes';
import {
	departmentColumn,
	sharesCode,
	type ScenarioSchedule,
	type ScheduleRow
} from '../../core/blocks/schedule/schema';
import { shareKey } from '../../core/blocks/schedule/compile';
import { codeIn, departmentsOf } from '../../core/blocks/schedule/shape';
import type { CellEdit } from '../../core/inputs/cell';
import type { Series } from '../../core/inputs/series';
import { saveCells } from '../changes/save-cells';
import { newBatch, note, type Change } from '../company/journal';
import { readSeries } from '../company/subjects/scenario/values';
import { rowToStored } from '../company/subjects/scenario/schedule-rows';
import { companyFor, companyState } from '../company/structure';
import { insertRows } from '../platform/db/rows';
import { asOne, type Context } from '../platform/context';
import { notFound, Refusal } from '../platform/refusal';
import { writeCells, type SavedAs } from '../scenarios/cells';
import { scenarioForms } from '../scenarios/plan-data';
import { planOf } from '../scenarios/plans';
import { mustSee, touchScenario, writableScenario } from '../scenarios/scenarios';

export interface ChangedRows {
	scenario: string;
	schedule: string;
	changes: readonly RowChange[];
	/** Months that are typed with them, in rows that may be new. */
	edits?: readonly CellEdit[];
}

/** @throws Refusal 404 where the scenario has no such schedule */
export async function scheduleIn(db: Knex, scenario: string, code: string): Promise<ScenarioSchedule> {
	const own = (await scenarioForms(db, scenario)).schedules.find((s) => s.definition.code === code);
	if (!own) throw notFound(`The schedule “${code}”`);
	return own;
}

/**
 * Changes rows of a schedule and months in them, all or nothing; the scenario is calculated before anything is kept.
 * What is typed in a row goes with it, and moves with its department.
 * @returns how many changes were made
 * @throws Refusal 403, 404; 409 with what somebody else has changed; 422 with each mistake at its row and column
 */
export async function saveRows(
	context: Context,
	{ scenario, schedule, changes, edits = [] }: ChangedRows,
	as: Partial<SavedAs> = {}
): Promise<number> {
	return asOne(context, async (within) => {
		const { db: trx, user } = within;
		await companyFor(within, 'change schedules');
		await mustSee(within, scenario);
		await writableScenario(trx, scenario);
		const saved: SavedAs = { kind: as.kind ?? 'schedule', batch: as.batch ?? newBatch() };
		const own = await scheduleIn(trx, scenario, schedule);
		const { rows, conflicts } = changeRows(own.rows, changes);
		if (conflicts.length) throw conflicting(conflicts, own);
		const next = { definition: own.definition, rows };
		await mustFit(trx, scenario, next);
		const journal = journalOf(own, next);
		let count = 0;
		if (journal.length) {
			const moved = movedSeries(own, next, await readSeries(trx, scenario));
			// Before the rows go: what cannot be found any more cannot be written.
			if (moved.length) count += await writeCells(trx, scenario, moved, user.email, saved);
			await storeChanged(trx, scenario, own, next);
			await note(
				trx,
				journal.map((c) => ({ ...c, user: user.email, kind: saved.kind, scenario, why: '' })),
				saved.batch
			);
			await touchScenario(trx, scenario);
		}
		if (edits.length) count += await saveCells(within, scenario, edits, saved);
		if (journal.length) await planOf(trx, scenario);
		return journal.length + count;
	});
}

/** @throws Refusal 422 for what does not fit in this schedule, or in others that name rows of it */
async function mustFit(db: Knex, scenario: string, next: ScenarioSchedule): Promise<void> {
	const { structure } = await companyState(db);
	const { schedules } = await scenarioForms(db, scenario);
	const all = schedules.map((s) => (s.definition.code === next.definition.code ? next : s));
	const ids = new Map(all.map((s) => [s.definition.code, new Set(s.rows.map((r) => r.id))]));
	const faults = all
		.filter((s) => s === next || s.definition.columns.some((c) => c.schedule === next.definition.code))
		.flatMap((s) =>
			scheduleRowFaults(s.definition, s.rows, structure, ids).map(({ row, column, message }) => ({
				// Where it is in the list that was sent: a row, and a column of it.
				column: [
					...(s === next ? [] : [s.definition.code]),
					s.rows[row].id,
					...(column ? [column] : [])
				].join('/'),
				message
			}))
		);
	if (!faults.length) return;
	const words = (count: number) => (count === 1 ? 'One place has' : `${count} places have`);
	throw new Refusal(422, `${words(faults.length)} to be mended; nothing was saved.`, faults.slice(0, 200));
}

function conflicting(conflicts: RowConflict[], { definition: { one, name } }: ScenarioSchedule): Refusal {
	const [first] = conflicts;
	const words =
		first.kind === 'taken'
			? `There is a ${one} “${first.id}” in ${name} already`
			: first.kind === 'gone'
				? `“${first.id}” is no ${one} of ${name} any more`
				: `What stands at “${first.change.id}” has been changed by somebody else since you opened this page`;
	return new Refusal(409, `${words}. Nothing was saved; what you typed is still here.`, [], conflicts);
}

type Noted = Pick<Change, 'about' | 'before' | 'after'>;

/** What of a row is kept in the journal where it comes or goes as a whole. */
export interface HeldRow {
	row: ScheduleRow;
	/** The one before it. */
	after: string | null;
}

function journalOf(before: ScenarioSchedule, after: ScenarioSchedule): Noted[] {
	const schedule = before.definition.code;
	const held = ({ rows }: ScenarioSchedule, place: number) =>
		JSON.stringify({ row: rows[place], after: rows[place - 1]?.id ?? null } satisfies HeldRow);
	const was = new Map(before.rows.map((row, i) => [row.id, i]));
	const is = new Map(after.rows.map((row, i) => [row.id, i]));
	const noted: Noted[] = [];
	for (const [id, i] of was)
		if (!is.has(id)) noted.push({ about: { what: 'row', schedule, id }, before: held(before, i), after: '' });
	for (const [id, i] of is) {
		const old = was.get(id);
		if (old === undefined) {
			noted.push({ about: { what: 'row', schedule, id }, before: '', after: held(after, i) });
			continue;
		}
		const [from, to] = [before.rows[old], after.rows[i]];
		if (from === to) continue;
		for (const column of new Set([...Object.keys(from.values), ...Object.keys(to.values), DIVIDED])) {
			const [a, b] = [inJournal(from, column), inJournal(to, column)];
			if (a !== b) noted.push({ about: { what: 'column', schedule, column, row: id }, before: a, after: b });
		}
	}
	return noted;
}
/** A value as JSON, so that a text that looks like a number stays a text; empty where nothing stands. */
const inJournal = (row: ScheduleRow, column: string): string => {
	const value = column === DIVIDED ? row.shares?.join(';') : row.values[column];
	return value === undefined || value === '' ? '' : JSON.stringify(value);
};

/** Typed months that lose their place, and those that get another as their row goes to another department. */
function movedSeries(
	before: ScenarioSchedule,
	after: ScenarioSchedule,
	series: readonly Series[]
): CellEdit[] {
	const { definition } = before;
	const { code } = definition;
	const byId = new Map(after.rows.map((row) => [row.id, row]));
	const column = departmentColumn(definition)?.code;
	/** Where what is typed under a key goes; null where it has no place any more. */
	const moves = new Map<string, string | null>();
	for (const row of before.rows) {
		const now = byId.get(row.id);
		if (now === row) continue;
		if (!now) moves.set(row.id, null);
		const there = new Set(now ? departmentsOf(definition, now) : []);
		const [own, next] = column ? [codeIn(row, column), now ? codeIn(now, column) : ''] : ['', ''];
		for (const department of departmentsOf(definition, row)) {
			if (there.has(department)) continue;
			const to =
				department === own && next !== own && !departmentsOf(definition, row).includes(next) ? next : '';
			moves.set(shareKey(row.id, department), to ? shareKey(row.id, to) : null);
		}
	}
	const edits: CellEdit[] = [];
	for (const s of series) {
		const to = s.block === code || s.block === sharesCode(code) ? moves.get(s.row) : undefined;
		if (to === undefined) continue;
		const { block, line, row } = s;
		s.values.forEach((value, i) => {
			if (Number.isNaN(value)) return;
			const period = s.first + i;
			edits.push({ block, line, row, period, before: value, value: null });
			if (to) edits.push({ block, line, row: to, period, before: null, value });
		});
	}
	return edits;
}

/** Rows that are the same stay as they are stored. */
async function storeChanged(
	trx: Knex.Transaction,
	scenario: string,
	{ definition: { code }, rows: before }: ScenarioSchedule,
	{ rows: after }: ScenarioSchedule
): Promise<void> {
	const at = { scenario, schedule: code };
	const sameOrder = after.length >= before.length && before.every((row, i) => row.id === after[i].id);
	if (sameOrder) {
		for (const [i, row] of before.entries())
			if (after[i] !== row) {
				const { id, content } = rowToStored(after[i]);
				await trx('schedule_row')
					.where({ ...at, id })
					.update({ content });
			}
	} else await trx('schedule_row').where(at).delete();
	const from = sameOrder ? before.length : 0;
	await insertRows(
		trx,
		'schedule_row',
		after.slice(from).map((row, i) => ({ ...at, ...rowToStored(row), position: from + i }))
	);
}

/** Puts rows into a scenario as they are, without asking: for a copy that is made of another time. */
export async function putRows(
	trx: Knex.Transaction,
	scenario: string,
	own: ScenarioSchedule,
	rows: ScheduleRow[]
) {
	await storeChanged(trx, scenario, own, { definition: own.definition, rows });
	await touchScenario(trx, scenario);
}
