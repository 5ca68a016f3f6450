/** Forms of models and schedules as scenarios use them, each known by its text and kept once. */
import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { z } from 'zod';
import { copyRows } from '../../platform/db/rows';
import * as stored from '../../platform/db/stored';

/** Identity of a form: equal content, equal id. */
export const formId = (form: object): string =>
	createHash('sha256').update(JSON.stringify(form)).digest('hex');

/** Keeps a form, once for equal content, and answers its id. */
export async function keepForm(trx: Knex.Transaction, form: object): Promise<string> {
	const id = formId(form);
	await trx('definition')
		.insert({ id, content: JSON.stringify(form) })
		.onConflict('id')
		.ignore();
	return id;
}

/** A form that was kept, by its identity; null where it is not. */
export async function formById<F>(db: Knex, { form }: FormKind<F>, id: string): Promise<F | null> {
	if (id === '') return null;
	const row = await stored.row(z.object({ content: form }), db('definition').where({ id }).first('content'));
	return (row?.content as F | undefined) ?? null;
}

/** Where scenarios say which forms they have of a kind: models in `scenario_model`, in the order of `model`. */
export interface FormKind<F> {
	of: 'model' | 'schedule';
	form: z.ZodType<F>;
}
const tableOf = ({ of }: FormKind<unknown>) => `scenario_${of}`;
const withForms = (db: Knex, table: string) =>
	db(table).join('definition', 'definition.id', `${table}.definition`);

/** A scenario's forms as they are stored, in their order. */
export async function formTextsOf(db: Knex, kind: FormKind<unknown>, scenario: string): Promise<string[]> {
	const { of } = kind;
	const table = tableOf(kind);
	return stored.texts(
		withForms(db, table)
			.join(of, `${of}.code`, `${table}.${of}`)
			.where({ scenario })
			.orderBy(`${of}.position`)
			.pluck('content')
	);
}
/** @throws Error for a text that is no such form */
export const formsFrom = <F>({ form }: FormKind<F>, texts: readonly string[]): F[] =>
	stored.inShape(z.array(form), texts);

/** A scenario's forms, in their order. */
export const formsOf = async <F>(db: Knex, kind: FormKind<F>, scenario: string): Promise<F[]> =>
	formsFrom(kind, await formTextsOf(db, kind, scenario));

export async function storeForms<F extends { code: string }>(
	trx: Knex.Transaction,
	kind: FormKind<F>,
	scenario: string,
	forms: readonly F[]
): Promise<void> {
	for (const form of forms)
		await trx(tableOf(kind)).insert({
			scenario,
			[kind.of]: form.code,
			definition: await keepForm(trx, form)
		});
}

export const copyForms = (
	trx: Knex.Transaction,
	kind: FormKind<unknown>,
	from: string,
	to: string
): Promise<void> => copyRows(trx, tableOf(kind), [kind.of, 'definition'], from, to);

/** Scenarios that have the same form as this one, itself among them; none where it has no such form. */
export async function usersOfForm(
	db: Knex,
	kind: FormKind<unknown>,
	scenario: string,
	code: string
): Promise<Set<string>> {
	const table = tableOf(kind);
	const own = db(table)
		.where({ scenario, [kind.of]: code })
		.select('definition');
	const users = db(table)
		.where({ [kind.of]: code })
		.whereIn('definition', own);
	return new Set(await stored.texts(users.pluck('scenario')));
}

/** Forms that may speak of other scenarios, by scenario; no others are looked into. */
export async function formsSpeakingOfOthers<F>(
	db: Knex,
	kind: FormKind<F>
): Promise<{ scenario: string; content: F }[]> {
	const rows = await stored.rows(
		z.object({ scenario: stored.text, content: kind.form }),
		withForms(db, tableOf(kind)).whereLike('content', '%scenario%').select('scenario', 'content')
	);
	return rows.map(({ scenario, content }) => ({ scenario, content: content as F }));
}

/** Of each the form that most scenarios use; where several do equally, that of the first in the list. */
export async function mostUsed<F>(db: Knex, kind: FormKind<F>): Promise<Map<string, F>> {
	const { of, form } = kind;
	const table = tableOf(kind);
	const uses = await stored.rows(
		z.object({ of: stored.text, content: form }),
		withForms(db, table)
			.join('scenario', 'scenario.code', `${table}.scenario`)
			.whereNull('scenario.deleted')
			.groupBy(`${table}.${of}`, 'definition.id', 'definition.content')
			.count({ count: '*' })
			.min({ first: 'scenario.position' })
			.orderBy([{ column: 'count' }, { column: 'first', order: 'desc' }])
			.select({ of: `${table}.${of}` }, 'definition.content')
	);
	return new Map(uses.map((u) => [u.of, u.content as F]));
}
