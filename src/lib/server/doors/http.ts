/** Thin faces for routes: parse with Zod, answer JSON, turn refusals into clear errors. */
import { error, json, type RequestEvent } from '@sveltejs/kit';
import type { Knex } from 'knex';
import { z } from 'zod';
import type { Calendar } from '../../core/calendar/calendar';
import type { Module } from '../../core/company/modules';
import type { Action } from '../platform/auth/policy';
import { discard, readBytes } from '../platform/bodies';
import { check } from '../platform/check';
import { database } from '../platform/database';
import { tellChanges } from './live';
import { giveWay } from '../platform/page-turns';
import { Refusal, refusalOf } from '../platform/refusal';
import { mustBeOn } from '../company/modules';
import { companyFor, companyState } from '../company/structure';
import type { Context } from '../platform/context';

export interface Call {
	context: Context;
	event: RequestEvent;
}

/** What is expected, in the company's calendar where periods stand in it. */
export type Shape<T> = z.ZodType<T> | ((calendar: Calendar) => z.ZodType<T>);
export const shapeOf = async <T>({ db }: Context, shape: Shape<T>): Promise<z.ZodType<T>> =>
	typeof shape === 'function' ? shape((await companyState(db)).calendar) : shape;

/** What a route takes. */
interface Takes<T> {
	/** Asked before anything of the request is read. */
	may?: Action;
	/** The part of the product that it is of; it is not there while that is switched off. */
	module?: Module;
	/** Its JSON body; of one that holds periods, for the company's calendar. */
	body: Shape<T>;
	/** Most bytes of it; 64 kB unless said otherwise. */
	size?: number;
}

const USUAL_SIZE = 64 * 1024;

/** A route that takes a body: first whether the user may do this at all, then how large it is, then what it says. */
export const takes = <T>(route: Takes<T>, handler: (call: Call & { input: T }) => Promise<unknown>) =>
	api(async (call) => {
		if (route.may) await companyFor(call.context, route.may);
		if (route.module) await mustBeOn(call.context, route.module);
		const bytes = await readBytes(call.event.request, route.size ?? USUAL_SIZE);
		return handler({ ...call, input: check(parseJson(bytes), await shapeOf(call.context, route.body)) });
	});

/** An API route: what the handler answers is sent as JSON, or as it is when it is a Response. */
export const api = (handler: (call: Call) => Promise<unknown>) =>
	answering(async (event) => {
		const context = await contextOf(event);
		const answer = await handler({ context, event });
		if (event.request.method !== 'GET')
			// What is saved is saved, whether others can be told or not.
			await tellChanges(context, event.request.headers.get('x-tab') ?? '').catch(() => {});
		return answer;
	});

/**
 * A route that asks for something else than a session; hooks say when it is open at all.
 * @param size most bytes of its JSON body
 */
export const takesFromAnyone = (
	size: number,
	handler: (call: { db: Knex; event: RequestEvent; body: unknown }) => Promise<unknown>
) =>
	answering(async (event) =>
		handler({ db: await database(), event, body: parseJson(await readBytes(event.request, size)) })
	);

/** Sends what is answered; a refusal becomes its sentence and places. */
export function answering(work: (event: RequestEvent) => Promise<unknown>) {
	return async (event: RequestEvent): Promise<Response> => {
		try {
			const answer = await work(event);
			return answer instanceof Response ? answer : json(answer ?? { done: true });
		} catch (e) {
			const refusal = refusalOf(e);
			if (!refusal) throw e;
			discard(event.request);
			const { message, faults, data = null, status } = refusal;
			return json({ error: { message, faults, data } }, { status });
		}
	};
}

/** A page within the application waits so long for a calculation (milliseconds). */
const MOST_WAITED = 60_000;

/**
 * What a page loads; a refusal becomes an error page with its sentence.
 * @param event.module the part of the product that it is of; it is not there while that is switched off
 */
export async function page<T>(
	event: { locals: App.Locals; module?: Module },
	load: (context: Context) => Promise<T>
): Promise<T> {
	for (const began = Date.now(); ; await new Promise((r) => setTimeout(r, 300)))
		try {
			const context = await contextOf(event);
			if (event.module) await mustBeOn(context, event.module);
			const made = await load(context);
			if (!event.locals.within) await giveWay();
			return made;
		} catch (e) {
			const refusal = refusalOf(e);
			if (!refusal) throw e;
			// A page that is there waits for a calculation: an error in its place would take with it what is typed.
			if (refusal.status === 503 && event.locals.within && Date.now() - began < MOST_WAITED) continue;
			error(refusal.status, refusal.message);
		}
}

async function contextOf({ locals: { user } }: { locals: App.Locals }): Promise<Context> {
	if (!user) throw new Refusal(401, 'You are not signed in, or your session has ended.');
	return { db: await database(), user };
}

function parseJson(bytes: Uint8Array): unknown {
	try {
		// What is no UTF-8 is no JSON (RFC 8259, section 8.1).
		return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
	} catch {
		throw new Refusal(400, 'The request is not readable as JSON.');
	}
}

/** The address's parameters against a schema. */
export function query<T>(url: URL, schema: z.ZodType<T>): T {
	return check(Object.fromEntries(url.searchParams), schema);
}
/** A route that is asked by its address alone. */
export const asked = <T>(shape: Shape<T>, handler: (call: Call & { input: T }) => Promise<unknown>) =>
	api(async (call) => handler({ ...call, input: query(call.event.url, await shapeOf(call.context, shape)) }));
