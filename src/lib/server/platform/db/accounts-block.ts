/** Planned accounts became the block `accounts`; before, they were called `ledger`, which is the general ledger alone. */
import { createHash } from 'node:crypto';
import type { Knex } from 'knex';

const WAS = 'ledger';
const IS = 'accounts';
/** What hangs on a cell is named by it, behind one of these. */
const HANGING = ['', 'note/', 'items/', 'attachment/'];

/** Renames the block wherever it is stored. A driver model that has its new name gets another one first. */
export async function renameLedgerBlock(db: Knex): Promise<void> {
	if (await db('model').where({ code: IS }).first('code')) await renameModel(db, IS, await freeCode(db));
	await renameBlock(db, WAS, IS);
}

async function freeCode(db: Knex): Promise<string> {
	const taken = new Set([
		...((await db('model').pluck('code')) as string[]),
		...((await db('dimension').pluck('code')) as string[])
	]);
	for (let n = 2; ; n++) if (!taken.has(`${IS}_${n}`)) return `${IS}_${n}`;
}

/** Typed values, adjustments, and subjects in the journal and of what hangs on cells. */
async function renameBlock(db: Knex, was: string, is: string): Promise<void> {
	await db('series').where({ block: was }).update({ block: is });
	for (const table of ['journal', 'note', 'item', 'attachment'])
		for (const head of HANGING) await renameHead(db, table, `${head}${was}/`, `${head}${is}/`);
	for (const row of (await db('adjustment').select('scenario', 'code', 'steps')) as Record<string, string>[])
		await db('adjustment')
			.where({ scenario: row.scenario, code: row.code })
			.update({ steps: withBlock(row.steps, was, is) });
	for (const { id, before, after } of await entriesOn(db, 'adjustment/%'))
		await db('journal')
			.where({ id })
			.update({ before: withBlock(before, was, is), after: withBlock(after, was, is) });
}

const entriesOn = (db: Knex, subjects: string): Promise<{ id: number; before: string; after: string }[]> =>
	db('journal').whereLike('subject', subjects).select('id', 'before', 'after');

/** Subjects begin with the block; codes hold no character that would mean another one in the middle. */
async function renameHead(db: Knex, table: string, was: string, is: string): Promise<void> {
	await db(table)
		.whereRaw('substr(??, 1, ?) = ?', ['subject', was.length, was])
		.update({ subject: db.raw('? || substr(??, ?)', [is, 'subject', was.length + 1]) });
}

/** Names a block as JSON writes it: lines of adjustments are `{"block": …, "line": …}`. */
function withBlock(text: string, was: string, is: string): string {
	try {
		return JSON.stringify(JSON.parse(text), (key, value: unknown) =>
			key === 'block' && value === was ? is : value
		);
	} catch {
		// Empty, or from a folder that was written by hand.
		return text;
	}
}

/** A driver model under another code, in all its forms and in every formula that reads it. */
async function renameModel(db: Knex, was: string, is: string): Promise<void> {
	const order = (await db('model').where({ code: was }).first('position')) as { position: number };
	await db('model').insert({ code: is, position: order.position });
	await db('model_row').where({ model: was }).update({ model: is });
	await db('basis')
		.whereRaw('substr(??, 1, ?) = ?', ['driver', was.length + 1, `${was}.`])
		.update({ driver: db.raw('? || substr(??, ?)', [is, 'driver', was.length + 1]) });
	await renameBlock(db, was, is);
	for (const head of ['model/', 'formula/'])
		for (const end of ['', '/']) {
			const old = `${head}${was}${end}`;
			if (end) await renameHead(db, 'journal', old, `${head}${is}${end}`);
			else
				await db('journal')
					.where({ subject: old })
					.update({ subject: `${head}${is}` });
		}
	const formula = (text: string) => text.replace(new RegExp(`(?<![\\w.@"])${was}(?=\\s*\\.)`, 'g'), is);
	for (const { id, content } of (await db('definition')) as { id: string; content: string }[]) {
		const definition = JSON.parse(content) as { code: string };
		if (definition.code === was) definition.code = is;
		const now = JSON.stringify(definition, (key, value: unknown) =>
			(key === 'formula' || key === 'actual') && typeof value === 'string' ? formula(value) : value
		);
		if (now === content) continue;
		const named = createHash('sha256').update(now).digest('hex');
		await db('definition').insert({ id: named, content: now }).onConflict('id').ignore();
		await db('scenario_model').where({ definition: id }).update({ definition: named });
		for (const side of ['before', 'after'])
			await db('journal')
				.where({ [side]: id })
				.update({ [side]: named });
		await db('definition').where({ id }).delete();
	}
	for (const { id, before, after } of await entriesOn(db, 'formula/%'))
		await db('journal')
			.where({ id })
			.update({ before: formula(before), after: formula(after) });
	const driver = (words: string) => words.replace(`"driver":"${was}.`, `"driver":"${is}.`);
	for (const { id, before, after } of await entriesOn(db, 'basis/%'))
		await db('journal')
			.where({ id })
			.update({ before: driver(before), after: driver(after) });
	await db('scenario_model').where({ model: was }).update({ model: is });
	await db('model').where({ code: was }).delete();
}
