import { redirect } from '@sveltejs/kit';
import { closeSession, SESSION_COOKIE } from '$lib/server/auth/sessions';
import { database } from '$lib/server/database';

export const POST = async ({ cookies }) => {
	const token = cookies.get(SESSION_COOKIE);
	if (token) await closeSession(await database(), token);
	cookies.delete(SESSION_COOKIE, { path: '/' });
	redirect(303, '/signin');
};
