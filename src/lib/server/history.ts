/** History: what was saved in a scenario, by whom, and taking a save back. */
import type { Knex } from 'knex';
import { AdjustmentDefinition } from '../core/model/schema';
import { store } from './adjustments';
import { mustMay } from './auth/policy';
import type { User } from './auth/sessions';
import { writeCells, type CellEdit } from './cells';
import type { JournalRecord } from './company/data';
import { newBatch, note } from './journal';
import { Refusal } from './refusal';
import { mustSee, planOf, storedAdjustments, touchScenario, writableScenario } from './scenarios';
import { companyState } from './structure';

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
const UNDOABLE = new Set(['plan', 'driver', 'adopt', 'adjustment', 'undo']);
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
	return Promise.all(
		groups.map(async (g) => ({
			...g,
			user: names.get(g.user) ?? g.user,
			changes: await db('journal')
				.where({ scenario, batch: g.batch, kind: g.kind, ...(g.batch ? {} : { at: g.at }) })
				.orderBy('id')
				.limit(MOST_SHOWN)
				.select('subject', 'before', 'after', 'why'),
			undoable: g.batch !== '' && UNDOABLE.has(g.kind)
		}))
	);
}

/**
 * Takes a save back: every cell gets the value it had before, and adjustments their former form.
 * @returns how many changes were taken back
 * @throws Refusal 409 with the cells that have changed since; nothing is taken back then
 */
export async function undoSave(db: Knex, user: User, scenario: string, batch: string): Promise<number> {
	return db.transaction(async (trx) => {
		const state = await companyState(trx);
		mustMay(user, 'change driver models', state.structure.departments);
		await mustSee(trx, user, scenario);
		await writableScenario(trx, scenario);
		const changes = (await trx('journal')
			.where({ scenario, batch })
			.orderBy('id', 'desc')) as JournalRecord[];
		if (!batch || !changes.length) throw new Refusal(404, 'There is no such save.');
		const other = changes.find((c) => !UNDOABLE.has(c.kind));
		if (other) throw new Refusal(422, `A change of the kind “${other.kind}” is not taken back here.`);
		const name = newBatch();
		const number = (text: string) => (text === '' ? null : Number(text));
		const edits: CellEdit[] = [];
		const rest: JournalRecord[] = [];
		for (const c of changes) {
			const [block, line, row, month] = c.subject.split('/');
			const period = month === undefined ? null : state.calendar.parse(month);
			if (block === 'adjustment' || period === null) rest.push(c);
			else edits.push({ block, line, row, period, before: number(c.after), value: number(c.before) });
		}
		const list = await storedAdjustments(trx, scenario);
		for (const c of rest) {
			const [, code, place] = c.subject.split('/');
			const at = list.findIndex((a) => a.code === code);
			if (place) list.splice(Number(c.before) - 1, 0, ...list.splice(at, 1));
			else if (c.before === '') list.splice(at, at < 0 ? 0 : 1);
			else {
				const former = AdjustmentDefinition.parse(JSON.parse(c.before));
				list.splice(at < 0 ? list.length : at, at < 0 ? 0 : 1, former);
			}
		}
		if (rest.length) {
			await store(trx, scenario, list);
			await note(
				trx,
				rest.map((c) => ({
					user: user.email,
					kind: 'undo',
					scenario,
					subject: c.subject,
					before: c.after,
					after: c.before,
					why: ''
				})),
				name
			);
		}
		const cells = await writeCells(trx, scenario, state.calendar, edits, user.email, 'undo', name);
		await touchScenario(trx, scenario);
		await planOf(trx, scenario);
		return cells + rest.length;
	});
}
