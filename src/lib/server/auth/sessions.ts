import { createHash, randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import { Refusal } from '../refusal';
import { checkPassword, hashPassword } from './passwords';
import type { Role } from '../company/data';

export interface User {
	email: string;
	name: string;
	role: Role;
	departments: string[];
}

export const SESSION_COOKIE = 'yardstave_session';
export const SESSION_SECONDS = 12 * 3600;

const digest = (token: string) => createHash('sha256').update(token).digest('hex');

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

export async function userOfSession(
	db: Knex,
	token: string | undefined,
	now = Date.now()
): Promise<User | null> {
	if (!token) return null;
	const row = await db('session')
		.join('user', 'user.email', 'session.email')
		.where({ token_hash: digest(token) })
		.andWhere('expires_at', '>', now)
		.first('user.email', 'user.name', 'user.role', 'user.departments');
	return row
		? { email: row.email, name: row.name, role: row.role, departments: row.departments.split(';') }
		: null;
}

/** Failed attempts by e-mail and address, in memory: after several, each further one has to wait. */
const attempts = new Map<string, { count: number; until: number }>();
const FREE_ATTEMPTS = 5;
const WAIT_MS = 60_000;
// Checked against when the user does not exist, so that both cases take the same time.
let decoy: Promise<string> | null = null;

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
	const key = `${email.toLowerCase()} ${address}`;
	const tried = attempts.get(key);
	if (tried && tried.count >= FREE_ATTEMPTS && tried.until > now)
		throw new Refusal(429, 'Too many attempts. Wait a minute, then try again.');
	const row = await db('user').where({ email: email.toLowerCase() }).first();
	const stored = row?.password_hash ?? (await (decoy ??= hashPassword(randomBytes(16).toString('hex'))));
	const good = (await checkPassword(stored, password)) && row?.password_hash;
	if (!good) {
		attempts.set(key, { count: (tried?.count ?? 0) + 1, until: now + WAIT_MS });
		throw new Refusal(401, 'This e-mail and password do not belong together.');
	}
	attempts.delete(key);
	return { email: row.email, name: row.name, role: row.role, departments: row.departments.split(';') };
}
