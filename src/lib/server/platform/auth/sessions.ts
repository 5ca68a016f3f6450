import { z } from 'zod';
import { createHash, randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import { Refusal } from '../refusal';
import { Attempts, type Limit } from './attempts';
import { checkPassword, hashPassword } from './passwords';
import { Role } from './roles';
import { readOnce, type Tables } from '../db/kept';
import * as stored from '../db/stored';

export const UserRow = z.object({
	email: stored.text,
	name: stored.text,
	role: Role,
	/** Departments whose subtrees the role covers. */
	departments: stored.text.transform((list) => list.split(';')),
	/** Sees what single people earn, where the role lets them see people at all. */
	pay: stored.flag
});
const SessionRow = UserRow.extend({ expires_at: stored.whole });
export type User = z.output<typeof UserRow>;

export const SESSION_COOKIE = 'yardstave_session';
export const SESSION_SECONDS = 12 * 3600;

/** By what a session is known where its token is not kept. */
export const digest = (token: string) => createHash('sha256').update(token).digest('hex');

/** Opens a session and answers its token; only the token's hash is kept. */
export async function openSession(db: Knex, email: string, now = Date.now()): Promise<string> {
	const token = randomBytes(32).toString('base64url');
	await db('session').where('expires_at', '<', now).delete();
	await db('session').insert({ token_hash: digest(token), email, expires_at: now + SESSION_SECONDS * 1000 });
	return token;
}

export async function closeSession(db: Knex, token: string): Promise<void> {
	await db('session')
		.where({ token_hash: digest(token) })
		.delete();
}

/** Of these sessions, named by their hashes, those that are still open. */
export async function openAmong(db: Knex, hashes: readonly string[], now = Date.now()): Promise<Set<string>> {
	return new Set(
		await stored.texts(
			db('session')
				.whereIn('token_hash', hashes as string[])
				.andWhere('expires_at', '>', now)
				.pluck('token_hash')
		)
	);
}

const SESSIONS: Tables = ['session', 'user'];

export async function userOfSession(
	db: Knex,
	token: string | undefined,
	now = Date.now()
): Promise<User | null> {
	if (!token) return null;
	const hash = digest(token);
	const row = await readOnce(
		db,
		`session ${hash}`,
		() =>
			stored.row(
				SessionRow,
				db('session')
					.join('user', 'user.email', 'session.email')
					.where({ token_hash: hash, disabled: 0 })
					.first('user.email', 'user.name', 'user.role', 'user.departments', 'user.pay', 'session.expires_at')
			),
		SESSIONS
	);
	if (!row || row.expires_at <= now) return null;
	const { email, name, role, departments, pay } = row;
	return { email, name, role, departments, pay };
}

/** Everybody there is, in their order. */
export const allUsers = (db: Knex): Promise<User[]> => stored.rows(UserRow, db('user').orderBy('position'));
/** Those of them who may sign in. */
export const activeUsers = (db: Knex): Promise<User[]> =>
	stored.rows(UserRow, db('user').where({ disabled: 0 }).orderBy('position'));

/** Ends all sessions of a user. @returns their hashes */
export async function closeSessions(db: Knex, email: string): Promise<string[]> {
	const ended = await stored.texts(db('session').where({ email }).pluck('token_hash'));
	await db('session').where({ email }).delete();
	return ended;
}

/** Wrong passwords within a minute: for one user from one address, for one user from anywhere, from one address. */
const attempts = new Attempts(60_000);
const limitsOf = (email: string, address: string): Limit[] => [
	{ key: `both ${email} ${address}`, most: 5 },
	{ key: `user ${email}`, most: 20 },
	{ key: `address ${address}`, most: 20 }
];
// Checked against when the user does not exist, so that both cases take the same time.
let decoy: Promise<string> | null = null;

const Known = UserRow.extend({ password_hash: stored.textOrNone, disabled: stored.flag });

/** No e-mail address (RFC 5321) and no password of ours is longer. */
const LONGEST = { email: 254, password: 1024 };

/**
 * The user with this e-mail and password.
 * @throws Refusal 401 when they do not match, 429 after too many attempts
 */
export async function signIn(
	db: Knex,
	email: string,
	password: string,
	address: string,
	now = Date.now()
): Promise<User> {
	const wrong = new Refusal(401, 'This e-mail and password do not belong together.');
	if (email.length > LONGEST.email || password.length > LONGEST.password) throw wrong;
	const own = email.trim().toLowerCase();
	const limits = limitsOf(own, address);
	if (!attempts.begin(limits, now))
		throw new Refusal(429, 'Too many attempts. Wait a minute, then try again.');
	const row = await stored.row(Known, db('user').where({ email: own }).first());
	const hash = row?.password_hash ?? (await (decoy ??= hashPassword(randomBytes(16).toString('hex'))));
	if (!(await checkPassword(hash, password)) || !row?.password_hash) throw wrong;
	attempts.succeed(limits, now);
	// Said to nobody but who knows the password.
	if (row.disabled) throw new Refusal(403, 'You may not sign in any more. Ask an analyst of your company.');
	return {
		email: row.email,
		name: row.name,
		role: row.role,
		departments: row.departments,
		pay: row.pay
	};
}
