/** Thin faces for routes: parse with Zod, answer JSON, turn refusals into clear errors. */
import { error, json, type RequestEvent } from '@sveltejs/kit';
import type { Knex } from 'knex';
import { z } from 'zod';
import type { User } from './auth/sessions';
import { database } from './database';
import { tellChanges } from './live';
import { Refusal } from './refusal';

export interface Call {
	db: Knex;
	user: User;
	event: RequestEvent;
}

/** An API route: what the handler answers is sent as JSON, or as it is when it is a Response. */
export function api(handler: (call: Call) => Promise<unknown>) {
	return async (event: RequestEvent): Promise<Response> => {
		try {
			const db = await database();
			const user = signedIn(event);
			const answer = await handler({ db, user, event });
			if (event.request.method !== 'GET')
				// What is saved is saved, whether others can be told or not.
				await tellChanges(db, user, event.request.headers.get('x-tab') ?? '').catch(() => {});
			return answer instanceof Response ? answer : json(answer ?? { done: true });
		} catch (e) {
			if (!(e instanceof Refusal)) throw e;
			return json(
				{ error: { message: e.message, faults: e.faults, data: e.data ?? null } },
				{ status: e.status }
			);
		}
	};
}

/** A page within the application waits so long for a calculation (milliseconds). */
const MOST_WAITED = 60_000;

/** What a page loads; a refusal becomes an error page with its sentence. */
export async function page<T>(
	event: { locals: App.Locals },
	load: (db: Knex, user: User) => Promise<T>
): Promise<T> {
	for (const began = Date.now(); ; await new Promise((r) => setTimeout(r, 300)))
		try {
			return await load(await database(), signedIn(event));
		} catch (e) {
			if (!(e instanceof Refusal)) throw e;
			// A page that is there waits for a calculation: an error in its place would take with it what is typed.
			if (e.status === 503 && event.locals.within && Date.now() - began < MOST_WAITED) continue;
			error(e.status, e.message);
		}
}

function signedIn(event: { locals: App.Locals }): User {
	if (!event.locals.user) throw new Refusal(401, 'You are not signed in, or your session has ended.');
	return event.locals.user;
}

/** The request's JSON body against a schema. @throws Refusal 400 with each place */
export async function body<T>(event: RequestEvent, schema: z.ZodType<T>): Promise<T> {
	let value: unknown;
	try {
		value = await event.request.json();
	} catch {
		throw new Refusal(400, 'The request is not readable as JSON.');
	}
	return check(value, schema);
}

/** The address's parameters against a schema. */
export function query<T>(url: URL, schema: z.ZodType<T>): T {
	return check(Object.fromEntries(url.searchParams), schema);
}

export function check<T>(value: unknown, schema: z.ZodType<T>): T {
	const parsed = schema.safeParse(value);
	if (parsed.success) return parsed.data;
	throw new Refusal(
		400,
		'The request is not as expected.',
		parsed.error.issues.map((i) => ({ message: i.message, column: i.path.join('.') }))
	);
}
