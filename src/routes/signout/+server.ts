import { closeSession, digest, SESSION_COOKIE } from '$lib/server/platform/auth/sessions';
import { database } from '$lib/server/platform/database';
import { endSession } from '$lib/server/doors/live';

export const POST = async ({ cookies }) => {
	const token = cookies.get(SESSION_COOKIE);
	if (token) {
		await closeSession(await database(), token);
		endSession(digest(token));
	}
	cookies.delete(SESSION_COOKIE, { path: '/' });
	// Pages that the browser keeps for the way back go too.
	return new Response(null, {
		status: 303,
		headers: { location: '/signin', 'clear-site-data': '"cache"' }
	});
};
