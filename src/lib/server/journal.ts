/** Every change: who, when, where, before, after, why. */
import type { Knex } from 'knex';
import { insertMany } from './db/bulk';
import type { JournalRecord } from './company/data';

export type Change = Omit<JournalRecord, 'at'>;

const COLUMNS = ['at', 'user', 'kind', 'scenario', 'subject', 'before', 'after', 'why'] as const;

/** Notes changes, in the transaction that makes them. */
export async function note(
	trx: Knex.Transaction,
	changes: readonly Change[],
	at = new Date()
): Promise<void> {
	const time = at.toISOString();
	await insertMany(
		trx,
		'journal',
		COLUMNS,
		changes.map((c) => [time, c.user, c.kind, c.scenario, c.subject, c.before, c.after, c.why])
	);
}

/** Where a typed value stands, as the journal names it. */
export const cellSubject = (block: string, line: string, row: string, period: string) =>
	`${block}/${line}/${row}/${period}`;

/** Changes of one subject, newest first, with names of people. */
export async function historyOf(
	db: Knex,
	scenario: string,
	subjects: readonly string[]
): Promise<(JournalRecord & { name: string })[]> {
	return db('journal')
		.leftJoin('user', 'user.email', 'journal.user')
		.where({ scenario })
		.whereIn('subject', subjects as string[])
		.orderBy('journal.id', 'desc')
		.limit(100)
		.select('journal.*', db.raw('coalesce(??, ??) as ??', ['user.name', 'journal.user', 'name']));
}
