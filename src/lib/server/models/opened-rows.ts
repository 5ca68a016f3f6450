/**
 * Opened rows of an arrangement, where they are too many for an address: kept under a mark that stands in the address in
 * their place, so that what is shown can still be linked.
 */
import { z } from 'zod';
import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import * as stored from '../platform/db/stored';

/** So many lists are kept; those not used for longest go first. */
const MOST_KEPT = 2000;
const MARK = /^@[0-9a-f]{32}$/;

/** Keeps a list. @returns the mark by which it is found again; equal lists have equal marks */
export async function keepOpened(db: Knex, keys: readonly string[], now = Date.now()): Promise<string> {
	const content = JSON.stringify(keys);
	const id = createHash('sha256').update(content).digest('hex').slice(0, 32);
	await db.transaction(async (trx) => {
		await trx('opened').insert({ id, keys: content, used: now }).onConflict('id').merge(['used']);
		const older = trx('opened').orderBy('used', 'desc').offset(MOST_KEPT).limit(MOST_KEPT).select('id');
		await trx('opened').whereIn('id', older).delete();
	});
	return `@${id}`;
}

const OpenedRow = z.object({ keys: stored.json(z.array(z.string())) });

/** The opened rows that an address names: as they are, or by a mark; nothing is open where the mark is not known. */
export async function openedIn(db: Knex, open: readonly string[]): Promise<readonly string[]> {
	const [mark] = open;
	if (open.length !== 1 || !MARK.test(mark)) return open;
	const row = await stored.row(
		OpenedRow,
		db('opened')
			.where({ id: mark.slice(1) })
			.first('keys')
	);
	return row?.keys ?? [];
}
