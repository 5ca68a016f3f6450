import { json, redirect, type Handle, type HandleServerError } from '@sveltejs/kit';
import pino from 'pino';
import { SESSION_COOKIE, userOfSession } from '$lib/server/auth/sessions';
import { database } from '$lib/server/database';
import { UPLOAD_LIMIT } from '$lib/server/settings';

const log = pino({ level: process.env.YARDSTAVE_LOG ?? 'info' });

/** Open to those who are not signed in. */
const OPEN = new Set(['/signin']);

export const handle: Handle = async ({ event, resolve }) => {
	const { pathname } = event.url;
	const length = Number(event.request.headers.get('content-length') ?? 0);
	if (length > UPLOAD_LIMIT)
		return json(
			{
				error: {
					message: `This upload is larger than ${UPLOAD_LIMIT / 1024 / 1024} MB. Split it, for instance by month.`,
					faults: []
				}
			},
			{ status: 413, headers: { connection: 'close' } }
		);
	event.locals.within = event.isDataRequest;
	event.locals.user = await userOfSession(await database(), event.cookies.get(SESSION_COOKIE));
	if (!event.locals.user && !OPEN.has(pathname)) {
		if (pathname.startsWith('/api/'))
			return json(
				{ error: { message: 'You are not signed in, or your session has ended.', faults: [] } },
				{ status: 401 }
			);
		redirect(303, `/signin?to=${encodeURIComponent(pathname + event.url.search)}`);
	}
	const theme = event.cookies.get('theme') === 'dark' ? 'dark' : '';
	const response = await resolve(event, { transformPageChunk: ({ html }) => html.replace('%theme%', theme) });
	response.headers.set('x-content-type-options', 'nosniff');
	response.headers.set('referrer-policy', 'same-origin');
	if (pathname.startsWith('/api/')) response.headers.set('cache-control', 'no-store');
	return response;
};

export const handleError: HandleServerError = ({ error, event, status }) => {
	if (status === 404) return { message: 'This page does not exist.' };
	log.error({ err: error, path: event.url.pathname }, 'unexpected error');
	return {
		message:
			'Something went wrong on the server. Nothing was changed; try again, and tell an administrator if it stays.'
	};
};
