/** Every change: who, when, where, before, after, why. */
import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import type { z } from 'zod';
import { insertMany } from '../platform/db/bulk';
import { changedText, type Changed } from './changed';
import { JournalRow, type JournalRecord } from './subjects/journal';
import * as stored from '../platform/db/stored';
import type { Within } from '../platform/context';
import { Refusal } from '../platform/refusal';
import { timestamp } from '../platform/settings';

const SignedEntry = JournalRow.extend({ name: stored.text });

export type Change = Omit<JournalRecord, 'at' | 'batch' | 'subject'> & { about: Changed };

const COLUMNS = ['at', 'user', 'kind', 'scenario', 'subject', 'before', 'after', 'why', 'batch'] as const;

/** A name for changes that are saved together. */
export const newBatch = (): string => randomUUID();

/** Notes changes, in the transaction that makes them; those of one batch are undone together. */
export async function note(
	trx: Knex.Transaction,
	changes: readonly Change[],
	batch = newBatch()
): Promise<void> {
	const time = timestamp();
	await insertMany(
		trx,
		'journal',
		COLUMNS,
		changes.map((c) => [
			time,
			c.user,
			c.kind,
			c.scenario,
			changedText(c.about),
			c.before,
			c.after,
			c.why,
			batch
		])
	);
}

/** Notes a change of the company itself, which no scenario holds. @param before and `after`: as words or JSON; empty for nothing */
export const noteCompany = (
	{ db, user }: Within,
	about: Exclude<Changed, { what: 'cell' | 'scenario' }>,
	before: string,
	after: string
): Promise<void> =>
	note(db, [{ user: user.email, kind: about.what, scenario: '', about, before, after, why: '' }]);

/** What an entry holds as JSON; null where it holds something else, as one from a folder may. */
export function heldIn<T>(text: string, schema: z.ZodType<T>): T | null {
	try {
		return schema.safeParse(JSON.parse(text)).data ?? null;
	} catch {
		return null;
	}
}

/** The same, where it has to be read. @throws Refusal 422 for an entry that holds something else */
export function fromJournal<T>(text: string, schema: z.ZodType<T>): T {
	const held = heldIn(text, schema);
	if (held !== null) return held;
	throw new Refusal(422, 'What the journal holds of this change cannot be read, so it is not taken back.');
}

/** Changes of these things, newest first, with names of people. */
export async function historyOf(
	db: Knex,
	scenario: string,
	things: readonly Changed[]
): Promise<(JournalRecord & { name: string })[]> {
	return stored.rows(
		SignedEntry,
		db('journal')
			.leftJoin('user', 'user.email', 'journal.user')
			.where({ scenario })
			.whereIn('subject', things.map(changedText))
			.orderBy('journal.id', 'desc')
			.limit(100)
			.select('journal.*', db.raw('coalesce(??, ??) as ??', ['user.name', 'journal.user', 'name']))
	);
}
