/** Keeping a scenario's schedule as it is to be, form and rows, with all that a change of them takes along. */
import type { Knex } from 'knex';
import { scheduleFaults } from '../../core/blocks/schedule/check-definition';
import { scheduleRowFaults } from '../../core/blocks/schedule/check-rows';
import { shareKey } from '../../core/blocks/schedule/compile';
import { PLACING } from '../../core/blocks/schedule/personal';
import { DIVIDED, rowValue } from '../../core/blocks/schedule/row-changes';
import type { TypedValue } from '../../core/scenario/type-cells';
import { rememberTyped } from '../scenarios/typed-since';
import {
	departmentColumn,
	SHARE,
	sharesCode,
	type ScenarioSchedule,
	type ScheduleDefinition,
	type ScheduleRow
} from '../../core/blocks/schedule/schema';
import { codeIn, departmentsOf } from '../../core/blocks/schedule/shape';
import { modelNames } from '../../core/blocks/driver-model/names';
import type { CellEdit } from '../../core/inputs/cell';
import type { Series } from '../../core/inputs/series';
import { note, type Change } from '../company/journal';
import { formId, keepForm } from '../company/subjects/forms-in-use';
import { rowToStored } from '../company/subjects/scenario/schedule-rows';
import { readSeries } from '../company/subjects/scenario/values';
import { namesOfSchedules } from '../company/subjects/schedules';
import { companyState } from '../company/structure';
import { nameSources } from '../models/models';
import { insertRows } from '../platform/db/rows';
import type { Within } from '../platform/context';
import { Refusal, type Fault } from '../platform/refusal';
import { writeCells, type SavedAs } from '../scenarios/cells';
import { scenarioForms } from '../scenarios/plan-data';
import { keepingToThoseWhoSee } from '../scenarios/rests-on';
import { touchScenario } from '../scenarios/scenarios';
import { keptFrom, mustBeOpen } from '../scenarios/individual-pay';

/** A schedule as it is and as it is to be; null where it is not there. */
export interface Kept {
	before: ScenarioSchedule | null;
	after: ScenarioSchedule | null;
}

/**
 * Keeps the change of one schedule of a scenario, in the caller's transaction, and notes all of it. What is typed in
 * months of a row goes with the row or with its line, and moves with its department.
 * @param why for the history, where the form is another
 * @returns how many things changed
 * @throws Refusal 422 with each mistake at its place; the caller has the scenario calculated
 */
export async function keepSchedule(
	within: Within,
	scenario: string,
	{ before, after }: Kept,
	as: SavedAs,
	why = ''
): Promise<number> {
	const { db: trx, user } = within;
	if (after) await mustFit(within, scenario, { before, after });
	const own = (before ?? after)!.definition.code;
	const [was, is] = [before, after].map((s) => s && formId(s.definition));
	const journal: Omit<Change, 'user' | 'kind' | 'scenario'>[] = journalOf(
		own,
		before?.rows ?? [],
		after?.rows ?? []
	);
	if (was !== is)
		journal.push({ about: { what: 'schedule', code: own }, before: was ?? '', after: is ?? '', why });
	if (!journal.length) return 0;
	await mustBeTheirs(within, scenario, { before, after }, journal);
	const moves = before && movesOf(before, after);
	// Values of rows that stay where they are leave months alone.
	const stays = was === is && !moves?.size;
	const moved = moves && !stays ? movedSeries({ before, after }, moves, await readSeries(trx, scenario)) : [];
	// Before the rows go: what cannot be found any more cannot be written.
	const cells = moved.length ? await writeCells(trx, scenario, moved, user.email, as) : 0;
	if (was !== is) await putForm(within, scenario, own, after?.definition ?? null);
	await storeRows(trx, scenario, own, before?.rows ?? [], after?.rows ?? []);
	await note(
		trx,
		journal.map((c) => ({ ...c, user: user.email, kind: as.kind, scenario })),
		as.batch
	);
	const revision = await touchScenario(trx, scenario);
	const values = moved.length || was !== is ? null : valuesTyped({ before, after }, journal);
	if (values) rememberTyped(trx, scenario, revision, { values });
	return journal.length + cells;
}

/** Values that were typed, where no row came, went or moved to where it is added up with others; else null. */
function valuesTyped(
	{ before, after }: Kept,
	journal: readonly Pick<Change, 'about'>[]
): TypedValue[] | null {
	if (!before || !after) return null;
	const { columns } = after.definition;
	const rows = new Map(after.rows.map((row) => [row.id, row]));
	const found: TypedValue[] = [];
	for (const { about } of journal) {
		if (about.what !== 'column') return null;
		const { schedule, column, row } = about;
		const own = columns.find((c) => c.code === column);
		if (!own || PLACING.has(own.kind)) return null;
		found.push({ schedule, row, column, value: rowValue(rows.get(row)!, column) });
	}
	return found;
}

/**
 * Whoever may not see individual pay changes nothing of it, nor what counts as such.
 * @throws Refusal 403
 */
async function mustBeTheirs(
	within: Within,
	scenario: string,
	{ before, after }: Kept,
	journal: readonly Pick<Change, 'about'>[]
): Promise<void> {
	if (!before || !after) return;
	const { structure } = await companyState(within.db);
	const { schedules } = await scenarioForms(within.db, scenario);
	const all = schedules.map((s) => s.definition);
	const { code } = before.definition;
	const was = keptFrom(within.user, all, structure);
	const is = keptFrom(
		within.user,
		all.map((d) => (d.code === code ? after.definition : d)),
		structure
	);
	if (formId(before.definition) !== formId(after.definition) && (was.has(code) || is.has(code)))
		throw new Refusal(
			403,
			`“${before.definition.name}” tells what single people earn, so only somebody who sees that changes its columns and lines.`
		);
	mustBeOpen(
		was,
		journal.flatMap(({ about }) =>
			about.what === 'column' ? [{ block: about.schedule, line: about.column }] : []
		)
	);
}

/** Puts a form into a scenario, or takes the schedule out. */
async function putForm(
	within: Within,
	scenario: string,
	schedule: string,
	definition: ScheduleDefinition | null
): Promise<void> {
	const { db: trx } = within;
	await keepingToThoseWhoSee(within, () => putFormAsItIs(trx, scenario, schedule, definition));
}
async function putFormAsItIs(
	trx: Knex.Transaction,
	scenario: string,
	schedule: string,
	definition: ScheduleDefinition | null
): Promise<void> {
	if (!definition) await trx('scenario_schedule').where({ scenario, schedule }).delete();
	else
		await trx('scenario_schedule')
			.insert({ scenario, schedule, definition: await keepForm(trx, definition) })
			.onConflict(['scenario', 'schedule'])
			.merge(['definition']);
}

/** The same without asking or noting anything: for a copy that is made of another time. */
export async function putSchedule(
	trx: Knex.Transaction,
	scenario: string,
	schedule: string,
	{ before, after }: Kept
): Promise<void> {
	await putFormAsItIs(trx, scenario, schedule, after?.definition ?? null);
	await storeRows(trx, scenario, schedule, before?.rows ?? [], after?.rows ?? []);
	await touchScenario(trx, scenario);
}

const countedFaults = (count: number) => (count === 1 ? 'One place has' : `${count} places have`);
const MOST_TOLD = 200;

/** @throws Refusal 422 for what does not fit in this schedule, or in others that name rows of it */
async function mustFit(
	within: Within,
	scenario: string,
	{ before, after }: { before: ScenarioSchedule | null; after: ScenarioSchedule }
): Promise<void> {
	const { db } = within;
	const { structure } = await companyState(db);
	const { schedules, models } = await scenarioForms(db, scenario);
	const { code } = after.definition;
	const others = schedules.filter((s) => s.definition.code !== code);
	const all = [...others, after];
	const faults: Fault[] = [];
	if (before?.definition !== after.definition) {
		const names = namesOfSchedules(
			others.map((s) => s.definition),
			structure.money
		);
		const blocks = [...models.map((m) => modelNames(m.definition, structure.money)), ...names];
		faults.push(...scheduleFaults(after.definition, blocks, await nameSources(within, structure, scenario)));
	}
	const ids = new Map(all.map((s) => [s.definition.code, new Set(s.rows.map((r) => r.id))]));
	if (!faults.length)
		for (const s of all) {
			if (s !== after && !s.definition.columns.some((c) => c.schedule === code)) continue;
			for (const { row, column, message } of scheduleRowFaults(s.definition, s.rows, structure, ids))
				faults.push({
					// Where it is in the list that was sent: a row, and a column of it.
					column: [
						...(s === after ? [] : [s.definition.code]),
						s.rows[row].id,
						...(column ? [column] : [])
					].join('/'),
					message
				});
		}
	if (faults.length)
		throw new Refusal(
			422,
			`${countedFaults(faults.length)} to be mended; nothing was saved.`,
			faults.slice(0, MOST_TOLD)
		);
}

/** What of a row is kept in the journal where it comes or goes as a whole. */
export interface HeldRow {
	row: ScheduleRow;
	/** The one before it. */
	after: string | null;
}

function journalOf(schedule: string, before: readonly ScheduleRow[], after: readonly ScheduleRow[]) {
	const held = (rows: readonly ScheduleRow[], place: number) =>
		JSON.stringify({ row: rows[place], after: rows[place - 1]?.id ?? null } satisfies HeldRow);
	const was = new Map(before.map((row, i) => [row.id, i]));
	const is = new Map(after.map((row, i) => [row.id, i]));
	const noted: Pick<Change, 'about' | 'before' | 'after' | 'why'>[] = [];
	for (const [id, i] of was)
		if (!is.has(id))
			noted.push({ about: { what: 'row', schedule, id }, before: held(before, i), after: '', why: '' });
	for (const [id, i] of is) {
		const old = was.get(id);
		if (old === undefined) {
			noted.push({ about: { what: 'row', schedule, id }, before: '', after: held(after, i), why: '' });
			continue;
		}
		const [from, to] = [before[old], after[i]];
		if (from === to) continue;
		for (const column of new Set([...Object.keys(from.values), ...Object.keys(to.values), DIVIDED])) {
			const [a, b] = [inJournal(from, column), inJournal(to, column)];
			if (a !== b)
				noted.push({ about: { what: 'column', schedule, column, row: id }, before: a, after: b, why: '' });
		}
	}
	return noted;
}
/** A value as JSON, so that a text that looks like a number stays a text; empty where nothing stands. */
const inJournal = (row: ScheduleRow, column: string): string => {
	const value = column === DIVIDED ? row.shares?.join(';') : row.values[column];
	return value === undefined || value === '' ? '' : JSON.stringify(value);
};

/** Lines of a schedule that are typed, by the block in which they are. */
export function typedLinesOf({ code, lines, divided }: ScheduleDefinition): Map<string, ReadonlySet<string>> {
	return new Map([
		[code, new Set(lines.filter((l) => l.formula === undefined).map((l) => l.code))],
		[sharesCode(code), new Set(divided ? [SHARE] : [])]
	]);
}

/** Typed months that lose their place, and those that get another as their row goes to another department. */
function movedSeries(
	{ before, after }: Kept,
	moves: ReadonlyMap<string, string | null>,
	series: readonly Series[]
): CellEdit[] {
	const { definition } = before!;
	const { code } = definition;
	const now = after ? typedLinesOf(after.definition) : new Map<string, ReadonlySet<string>>();
	const edits: CellEdit[] = [];
	for (const s of series) {
		if (s.block !== code && s.block !== sharesCode(code)) continue;
		const to = now.get(s.block)?.has(s.line) ? moves.get(s.row) : null;
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

/** Where what is typed under a key goes; null where it has no place any more. Of what stays nothing is said. */
function movesOf(
	{ definition, rows }: ScenarioSchedule,
	after: ScenarioSchedule | null
): Map<string, string | null> {
	const byId = new Map((after?.rows ?? []).map((row) => [row.id, row]));
	const column = departmentColumn(definition)?.code;
	const moves = new Map<string, string | null>();
	for (const row of rows) {
		const now = byId.get(row.id);
		if (now === row) continue;
		if (!now) moves.set(row.id, null);
		const former = departmentsOf(definition, row);
		const there = new Set(now ? departmentsOf(after!.definition, now) : []);
		const [own, next] = column ? [codeIn(row, column), now ? codeIn(now, column) : ''] : ['', ''];
		for (const department of former) {
			if (there.has(department)) continue;
			const goes = department === own && there.has(next) && !former.includes(next);
			moves.set(shareKey(row.id, department), goes ? shareKey(row.id, next) : null);
		}
	}
	return moves;
}

/** Rows that are the same stay as they are stored. */
async function storeRows(
	trx: Knex.Transaction,
	scenario: string,
	schedule: string,
	before: readonly ScheduleRow[],
	after: readonly ScheduleRow[]
): Promise<void> {
	const at = { scenario, schedule };
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
