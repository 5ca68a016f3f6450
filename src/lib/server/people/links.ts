/** Links that let somebody set their password: each works once, for a while, and only the latest one of a user. */
import { randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import { z } from 'zod';
import { hashPassword } from '../platform/auth/passwords';
import { closeSessions, digest } from '../platform/auth/sessions';
import * as stored from '../platform/db/stored';
import { Refusal } from '../platform/refusal';

const HOUR = 3_600_000;
/** Milliseconds that a link holds: to who comes for the first time, and to who has forgotten. */
export const HOLDS = { invitation: 7 * 24 * HOUR, reset: 24 * HOUR };

/** Makes a link; an earlier one of the same user opens nothing any more. @returns what the address ends with */
export async function makeLink(
	trx: Knex.Transaction,
	email: string,
	holds: number,
	now = Date.now()
): Promise<string> {
	const token = randomBytes(32).toString('base64url');
	await trx('entry_link').where({ email }).delete();
	await trx('entry_link').insert({ token_hash: digest(token), email, expires_at: now + holds });
	return token;
}

const LinkRow = z.object({
	email: stored.text,
	name: stored.text,
	expires_at: stored.whole,
	disabled: stored.flag
});
export interface Invited {
	email: string;
	name: string;
}

/** Whom a link is for. @throws Refusal 403 where it was used, is old, or never was */
export async function whoseLink(db: Knex, token: string, now = Date.now()): Promise<Invited> {
	const row = await stored.row(
		LinkRow,
		db('entry_link')
			.join('user', 'user.email', 'entry_link.email')
			.where({ token_hash: digest(token) })
			.first('user.email', 'user.name', 'user.disabled', 'entry_link.expires_at')
	);
	if (!row || row.expires_at <= now || row.disabled)
		throw new Refusal(
			403,
			'This link opens nothing any more: it was used, is too old, or another one was sent after it. Ask an analyst of your company for a new one.'
		);
	return { email: row.email, name: row.name };
}

/**
 * Sets the password of whom a link is for, and uses the link up; sessions that were open end.
 * @returns the user, and hashes of the sessions that have ended
 * @throws Refusal 403 for a link that opens nothing
 */
export async function useLink(
	db: Knex,
	token: string,
	password: string,
	now = Date.now()
): Promise<{ email: string; ended: string[] }> {
	await whoseLink(db, token, now);
	const password_hash = await hashPassword(password);
	return db.transaction(async (trx) => {
		// Again: another may have used it meanwhile.
		const { email } = await whoseLink(trx, token, now);
		await trx('entry_link').where({ email }).delete();
		await trx('user').where({ email }).update({ password_hash });
		return { email, ended: await closeSessions(trx, email) };
	});
}
