/** Signing somebody in: their session, and the cookie that holds it. */
import type { RequestEvent } from '@sveltejs/kit';
import type { Knex } from 'knex';
import { closeSession, openSession, SESSION_COOKIE, SESSION_SECONDS } from '../platform/auth/sessions';

/** Opens a session in the place of the one that the browser has; an earlier cookie opens nothing afterwards. */
export async function enter(
	db: Knex,
	email: string,
	{ cookies, url }: Pick<RequestEvent, 'cookies' | 'url'>
) {
	const old = cookies.get(SESSION_COOKIE);
	if (old) await closeSession(db, old);
	cookies.set(SESSION_COOKIE, await openSession(db, email), {
		path: '/',
		httpOnly: true,
		sameSite: 'lax',
		secure: url.protocol === 'https:',
		maxAge: SESSION_SECONDS
	});
}
