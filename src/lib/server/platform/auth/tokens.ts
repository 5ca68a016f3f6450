/**
 * Access tokens: with one a program asks the API as its user (RFC 6750), to read or to change too, until a day. Shown once;
 * only a hash is kept.
 */
import { randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import { z } from 'zod';
import type { Context } from '../context';
import { readOnce, type Tables } from '../db/kept';
import * as stored from '../db/stored';
import { notFound, Refusal } from '../refusal';
import { Name } from '../schemas';
import { digest, UserRow, type User } from './sessions';

export const TokenScope = z.enum(['read', 'change']);
export type TokenScope = z.infer<typeof TokenScope>;

const DAY = 86_400_000;
/** So many has nobody at once. */
const MOST = 20;
export const NewToken = z.strictObject({
	name: Name(80),
	scope: TokenScope,
	/** Until it ends. */
	days: z.int().min(1).max(366)
});

const TokenRow = z.object({
	id: stored.whole,
	name: stored.text,
	scope: TokenScope,
	made_at: stored.whole,
	expires_at: stored.whole,
	used_at: stored.wholeOrNone
});
/** A token as its user sees it; times in milliseconds since 1970. */
export type KeptToken = z.output<typeof TokenRow>;

/** The user's own tokens that have not ended, the latest first. */
export const listTokens = ({ db, user }: Context, now = Date.now()): Promise<KeptToken[]> =>
	stored.rows(
		TokenRow,
		db('access_token').where({ email: user.email }).andWhere('expires_at', '>', now).orderBy('id', 'desc')
	);

/** Makes a token for the user. @returns it, which nobody can read again. @throws Refusal 409 for too many */
export async function makeToken(
	context: Context,
	{ name, scope, days }: z.output<typeof NewToken>,
	now = Date.now()
): Promise<string> {
	const { db, user } = context;
	await db('access_token').where('expires_at', '<=', now).delete();
	if ((await listTokens(context, now)).length >= MOST)
		throw new Refusal(409, `You have ${MOST} tokens. End one that is not needed any more first.`);
	const token = `ys_${randomBytes(32).toString('base64url')}`;
	await db('access_token').insert({
		token_hash: digest(token),
		email: user.email,
		name,
		scope,
		made_at: now,
		expires_at: now + days * DAY
	});
	return token;
}

/** Ends one of the user's own tokens. @throws Refusal 404 */
export async function endToken({ db, user }: Context, id: number): Promise<void> {
	const ended = await db('access_token').where({ id, email: user.email }).delete();
	if (!ended) throw notFound('That token');
}

/** What a request shows as its token (RFC 6750, section 2.1); null where it shows none. */
export function bearerOf(request: Request): string | null {
	return /^Bearer\s+(\S+)$/i.exec(request.headers.get('authorization') ?? '')?.[1] ?? null;
}

const HeldRow = UserRow.extend({
	id: stored.whole,
	scope: TokenScope,
	expires_at: stored.whole,
	used_at: stored.wholeOrNone
});
/** When a token was used last is written no more often than this (milliseconds): every write has all be read anew. */
const NOTED_EVERY = 60 * 60 * 1000;

const TOKENS: Tables = ['access_token', 'user'];

/** Whose a token is, and what it may do; null for one that is none, has ended, or whose user is disabled. */
export async function userOfToken(
	db: Knex,
	token: string,
	now = Date.now()
): Promise<{ user: User; scope: TokenScope } | null> {
	const hash = digest(token);
	const row = await readOnce(
		db,
		`token ${hash}`,
		() =>
			stored.row(
				HeldRow,
				db('access_token')
					.join('user', 'user.email', 'access_token.email')
					.where({ token_hash: hash, disabled: 0 })
					.first(
						'user.email',
						'user.name',
						'user.role',
						'user.departments',
						'user.pay',
						'access_token.id',
						'access_token.scope',
						'access_token.expires_at',
						'access_token.used_at'
					)
			),
		TOKENS
	);
	if (!row || row.expires_at <= now) return null;
	if (row.used_at === null || now - row.used_at > NOTED_EVERY)
		await db('access_token').where({ id: row.id }).update({ used_at: now });
	const { email, name, role, departments, pay, scope } = row;
	return { user: { email, name, role, departments, pay }, scope };
}

/** What is asked with POST and changes nothing. */
const READS = /^\/api\/v1\/(trace|plan\/preview|(models|schedules)\/[^/]+\/preview)$/;
/** What only somebody who is signed in does: a token makes no tokens and sets no password. */
const PERSONAL = /^\/api\/v1\/me\/(tokens|password)(\/|$)/;

/** Why a token does not open this, as a sentence; null where it does. */
export function tokenMayNot(scope: TokenScope, method: string, pathname: string): string | null {
	if (PERSONAL.test(pathname)) return 'This is done by somebody who is signed in, not with a token.';
	if (scope === 'read' && method !== 'GET' && method !== 'HEAD' && !READS.test(pathname))
		return 'This token only reads. Make one that may change things, under your initials.';
	return null;
}
