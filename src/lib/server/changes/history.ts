/** History: what was saved in a scenario, by whom, and taking a save back. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { adjustmentWords, putBack, store } from './adjustments';
import { mustMay } from '../platform/auth/policy';
import { readAdjustmentsOf } from '../company/subjects/scenario/adjustments';
import type { User } from '../platform/auth/sessions';
import { writeCells, type SavedAs } from '../scenarios/cells';
import type { CellEdit } from '../../core/inputs/cell';
import type { JournalRecord } from '../company/subjects/journal';
import { readBasis } from '../company/subjects/scenario/bases';
import { saveBasis } from '../accounts/department-plan';
import { fromJournal, newBatch, note } from '../company/journal';
import { changeModel, definitionById } from '../models/design';
import { saveFormula } from '../models/models';
import { Refusal } from '../platform/refusal';
import { saveCells } from './save-cells';
import { Basis } from '../platform/schemas';
import { scenarioModels } from '../scenarios/plan-data';
import { planOf } from '../scenarios/plans';
import { mustSee, touchScenario, visibleScenarios, writableScenario } from '../scenarios/scenarios';
import { mustBeSound } from '../scenarios/soundness';
import { companyState } from '../company/structure';

/** Changes that were saved together. */
export interface Save {
	batch: string;
	at: string;
	user: string;
	kind: string;
	/** How many cells and other things it changed. */
	count: number;
	/** The first of them, in the journal's own words. */
	changes: { subject: string; before: string; after: string; why: string }[];
	/** Whether it can be taken back as a whole. */
	undoable: boolean;
}

/** Kinds of changes that a save can be taken back of. */
const UNDOABLE = new Set(['plan', 'driver', 'basis', 'formula', 'model', 'adopt', 'adjustment', 'undo']);
/** Kinds that hold codes of other scenarios. */
const NAMES_SCENARIOS = new Set(['copy', 'close', 'follow', 'scenario']);
const MOST_SHOWN = 12;

/** Saves of a scenario, newest first. @param before leaves out saves that are not older than this moment */
export async function savesOf(db: Knex, user: User, scenario: string, before?: string): Promise<Save[]> {
	const { structure } = await companyState(db);
	mustMay(user, 'see scenarios', structure.departments);
	await mustSee(db, user, scenario);
	// What was kept before saves had names is told apart by its moment.
	const apart = db.raw("case when ?? = '' then ?? else '' end", ['batch', 'at']);
	const newest = db('journal')
		.where({ scenario })
		.groupBy('batch', 'user', 'kind', apart)
		.max({ id: 'id', at: 'at' })
		.count({ count: '*' })
		.select('batch', 'user', 'kind')
		.orderBy('id', 'desc')
		.limit(50);
	if (before) newest.where('at', '<', before);
	const groups = (await newest) as { batch: string; at: string; user: string; kind: string; count: number }[];
	const names = new Map((await db('user').select('email', 'name')).map((u) => [u.email, u.name as string]));
	const seen = new Set((await visibleScenarios(db, user)).map((s) => s.code));
	const all = new Set((await db('scenario').pluck('code')) as string[]);
	/** A scenario's code, unless it is hidden from whoever reads. */
	const told = (code: string) => (all.has(code) && !seen.has(code) ? '' : code);
	return Promise.all(
		groups.map(async (g) => ({
			...g,
			user: names.get(g.user) ?? g.user,
			changes: (
				(await db('journal')
					.where({ scenario, batch: g.batch, kind: g.kind, ...(g.batch ? {} : { at: g.at }) })
					.orderBy('id')
					.limit(MOST_SHOWN)
					.select('subject', 'before', 'after', 'why')) as Save['changes']
			).map((c) =>
				NAMES_SCENARIOS.has(g.kind) ? { ...c, before: told(c.before), after: told(c.after) } : c
			),
			undoable: g.batch !== '' && UNDOABLE.has(g.kind)
		}))
	);
}

/**
 * Takes a save back: every cell, basis, formula and adjustment gets what it was before, each by the door by which it
 * is usually changed.
 * @returns how many changes were taken back
 * @throws Refusal 409 when something of it has changed since, 403 where the user may not; nothing is taken back then
 */
export async function undoSave(db: Knex, user: User, scenario: string, batch: string): Promise<number> {
	return db.transaction(async (trx) => {
		const { structure, calendar } = await companyState(trx);
		mustMay(user, 'change driver models', structure.departments);
		await mustSee(trx, user, scenario);
		await writableScenario(trx, scenario);
		const changes = (await trx('journal')
			.where({ scenario, batch })
			.orderBy('id', 'desc')) as JournalRecord[];
		if (!batch || !changes.length) throw new Refusal(404, 'There is no such save.');
		const other = changes.find((c) => !UNDOABLE.has(c.kind));
		if (other) throw new Refusal(422, `A change of the kind “${other.kind}” is not taken back here.`);
		const as = { kind: 'undo', batch: newBatch() };
		const number = (text: string) => (text === '' ? null : Number(text));
		const edits = new Map<string, CellEdit>();
		const adjustments: JournalRecord[] = [];
		const models: JournalRecord[] = [];
		for (const c of changes) {
			const [block, line, row, month] = c.subject.split('/');
			if (block === 'adjustment') adjustments.push(c);
			else if (block === 'basis') await undoBasis(trx, user, scenario, c, line, row);
			else if (block === 'model') models.push(c);
			else if (block === 'formula') await undoFormula(trx, user, scenario, c, line, row);
			else {
				const period = calendar.parse(month ?? '')!;
				const own = edits.get(c.subject);
				// Of a cell that was changed twice in one save, what it was before the first counts.
				if (own) own.value = number(c.before);
				else
					edits.set(c.subject, {
						block,
						line,
						row,
						period,
						before: number(c.after),
						value: number(c.before)
					});
			}
		}
		await undoAdjustments(trx, user, scenario, adjustments, as.batch);
		// Figures that went with a line come back where they were, also in closed months.
		const cells = [...edits.values()];
		if (models.length) await writeCells(trx, scenario, calendar, cells, user.email, as);
		else await saveCells(trx, user, scenario, cells, as);
		for (const c of models) await undoModel(trx, user, scenario, c, as);
		await touchScenario(trx, scenario);
		await mustBeSound(trx, scenario);
		await planOf(trx, scenario);
		return changes.length;
	});
}

const changedSince = (what: string) =>
	new Refusal(409, `${what} has been changed since. Nothing is taken back; look at what stands there now.`);

async function undoBasis(
	trx: Knex.Transaction,
	user: User,
	scenario: string,
	change: JournalRecord,
	account: string,
	department: string
): Promise<void> {
	if (JSON.stringify(await readBasis(trx, scenario, account, department)) !== change.after)
		throw changedSince('The basis');
	await saveBasis(trx, user, scenario, department, account, fromJournal(change.before, Basis));
}

async function undoFormula(
	trx: Knex.Transaction,
	user: User,
	scenario: string,
	change: JournalRecord,
	model: string,
	line: string
): Promise<void> {
	const models = await scenarioModels(trx, scenario);
	const own = models.find((m) => m.definition.code === model)?.definition.lines.find((l) => l.code === line);
	if (own?.formula !== change.after) throw changedSince('The formula');
	await saveFormula(trx, user, { scenario, model, line, formula: change.before, also: [] });
}

async function undoModel(
	trx: Knex.Transaction,
	user: User,
	scenario: string,
	{ subject, before, after }: JournalRecord,
	as: SavedAs
): Promise<void> {
	const model = subject.slice('model/'.length);
	const version = after || null;
	const definition = await definitionById(trx, before);
	if (before !== '' && !definition)
		throw new Refusal(
			422,
			'The form that the model had is not kept: it was not in the folder from which the company was loaded.'
		);
	await changeModel(trx, user, { scenarios: [scenario], model, version, definition, drop: false }, as);
}

async function undoAdjustments(
	trx: Knex.Transaction,
	user: User,
	scenario: string,
	changes: readonly JournalRecord[],
	batch: string
): Promise<void> {
	if (!changes.length) return;
	const list = await readAdjustmentsOf(trx, scenario);
	const codeOf = (c: JournalRecord) => c.subject.slice('adjustment/'.length);
	// Where others stand now says nothing against it; what this one says and does has to be as it was left.
	const content = (words: string) =>
		words === '' ? '' : JSON.stringify({ ...fromJournal(words, z.looseObject({})), place: 0 });
	for (const c of changes) {
		const code = codeOf(c);
		if (content(adjustmentWords(list, code)) !== content(c.after)) throw changedSince('The adjustment');
		putBack(list, code, c.before);
	}
	await store(trx, scenario, list);
	await note(
		trx,
		changes.map((c) => ({
			user: user.email,
			kind: 'undo',
			scenario,
			subject: c.subject,
			before: c.after,
			after: adjustmentWords(list, codeOf(c)),
			why: ''
		})),
		batch
	);
}
