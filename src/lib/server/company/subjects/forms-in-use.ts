/** Forms of models and schedules as scenarios use them, each known by its text and kept once. */
import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { z } from 'zod';
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

/**
 * Of each the form that most scenarios use; where several do equally, that of the first in the list.
 * @param table scenarios and what each has, with its form @param of the column that says of what
 */
export async function mostUsed<F>(
	db: Knex,
	table: string,
	of: string,
	form: z.ZodType<F>
): Promise<Map<string, F>> {
	const uses = await stored.rows(
		z.object({ of: stored.text, content: form }),
		db(table)
			.join('scenario', 'scenario.code', `${table}.scenario`)
			.join('definition', 'definition.id', `${table}.definition`)
			.whereNull('scenario.deleted')
			.groupBy(`${table}.${of}`, 'definition.id', 'definition.content')
			.count({ count: '*' })
			.min({ first: 'scenario.position' })
			.orderBy([{ column: 'count' }, { column: 'first', order: 'desc' }])
			.select({ of: `${table}.${of}` }, 'definition.content')
	);
	return new Map(uses.map((u) => [u.of, u.content]));
}
