import { building, dev } from '$app/environment';
import { json, type Handle, type HandleServerError, type ServerInit } from '@sveltejs/kit';
import pino from 'pino';
import { discard } from '$lib/server/platform/bodies';
import { SESSION_COOKIE, userOfSession } from '$lib/server/platform/auth/sessions';
import { bearerOf, tokenMayNot, userOfToken } from '$lib/server/platform/auth/tokens';
import { database } from '$lib/server/platform/database';
import { hasCompany } from '$lib/server/company/subjects/company';
import { makeKey } from '$lib/server/founding/key';
import { secured } from '$lib/server/platform/headers';
import { beforePages, giveWay, inTurn } from '$lib/server/platform/page-turns';
import { request } from '$lib/server/platform/quiet';
import { Refusal } from '$lib/server/platform/refusal';
import { wholeAddress } from '$lib/server/scenarios/selection';
import { warmUp } from '$lib/server/scenarios/warm';
import { UPLOAD_LIMIT } from '$lib/server/platform/settings';

const log = pino({ level: process.env.YARDSTAVE_LOG ?? 'info' });

/** Nothing listens before the database is known to be sound: what is wrong with it is said in one line. */
export const init: ServerInit = async () => {
	if (building || dev) return;
	try {
		const db = await database();
		if (await hasCompany(db)) void warmUp(db).catch(() => {});
		else
			console.log(
				`There is no company here yet. Set it up at\n\n  ${here()}/begin?key=${makeKey()}\n\nThis address works once, until the server is started again; whoever has it becomes the first analyst.`
			);
	} catch (e) {
		console.error(
			e instanceof Refusal ? e.message : `The database cannot be opened: ${(e as Error).message}`
		);
		process.exit(1);
	}
};

/** Where this server is reached. */
const here = () =>
	process.env.ORIGIN ?? `http://${process.env.HOST ?? '127.0.0.1'}:${process.env.PORT ?? '3000'}`;

/** Open to those who are not signed in; setting up asks for its own key, and only while there is no company. */
const OPEN = new Set(['/signin', '/join']);
const SETTING_UP = new Set([
	'/begin',
	'/api/v1/founding',
	'/api/v1/founding/history',
	'/api/v1/founding/folder',
	'/api/v1/founding/worksheets'
]);
const isOpen = async (pathname: string) =>
	OPEN.has(pathname) || (SETTING_UP.has(pathname) && !(await hasCompany(await database())));

export const handle: Handle = (input) => request(async () => secured(await answer(input), input.event.url));

const answer: Handle = async ({ event, resolve }) => {
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
	event.locals.token = null;
	const bearer = bearerOf(event.request);
	if (bearer !== null && pathname.startsWith('/api/')) {
		const held = await userOfToken(await database(), bearer);
		event.locals.user = held?.user ?? null;
		event.locals.token = held && { scope: held.scope };
		const refused = held && tokenMayNot(held.scope, event.request.method, pathname);
		if (refused) {
			discard(event.request);
			return json({ error: { message: refused, faults: [] } }, { status: 403 });
		}
	} else event.locals.user = await userOfSession(await database(), event.cookies.get(SESSION_COOKIE));
	if (!event.locals.user && !(await isOpen(pathname))) {
		discard(event.request);
		if (pathname.startsWith('/api/'))
			return json(
				{ error: { message: 'You are not signed in, or your session has ended.', faults: [] } },
				{ status: 401 }
			);
		const to = `/signin?to=${encodeURIComponent(pathname + event.url.search)}`;
		// Within the application the page itself is told where to go.
		if (event.isDataRequest) return json({ type: 'redirect', location: to });
		return new Response(null, { status: 303, headers: { location: to } });
	}
	if (event.locals.user && event.request.method === 'GET' && event.route.id?.startsWith('/(app)')) {
		const context = { db: await database(), user: event.locals.user };
		// What is wrong with an address is told by the page. Once pages load, all of them do before the first says no.
		const whole = await wholeAddress(context, event.url).catch(() => null);
		if (whole !== null && event.isDataRequest) return json({ type: 'redirect', location: whole });
		if (whole !== null) return new Response(null, { status: 307, headers: { location: whole } });
	}
	const theme = event.cookies.get('theme') === 'dark' ? 'dark' : '';
	const make = async () =>
		resolve(event, {
			async transformPageChunk({ html }) {
				await giveWay();
				return html.replace('%theme%', theme);
			}
		});
	const isPage = !event.isDataRequest && !pathname.startsWith('/api/');
	return isPage ? inTurn(make) : beforePages(make);
};

export const handleError: HandleServerError = ({ error, event, status }) => {
	if (status === 404) return { message: 'This page does not exist.' };
	log.error({ err: error, path: event.url.pathname }, 'unexpected error');
	return {
		message:
			'Something went wrong on the server. Nothing was changed; try again, and tell an administrator if it stays.'
	};
};
