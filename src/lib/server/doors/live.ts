/** Tells open pages what has been saved and who else is there (server-sent events, WHATWG HTML 9.2). */
import { z } from 'zod';
import type { Knex } from 'knex';
import { maySeeScenario } from '../platform/auth/policy';
import { openAmong, type User } from '../platform/auth/sessions';
import { shownWith } from '../scenarios/rests-on';
import { listScenarios } from '../scenarios/scenarios';
import { companyState } from '../company/structure';
import * as stored from '../platform/db/stored';
import type { Context } from '../platform/context';

export interface Watch {
	user: User;
	/** The session it was opened in, by its hash: the stream ends with it. */
	session: string;
	/** One page of one browser; what it saves itself it need not be told. */
	tab: string;
	scenario: string;
	/** The page's path. */
	at: string;
}
/** Somebody else at the same scenario. */
export interface Present {
	name: string;
	at: string;
}
interface Watcher extends Watch {
	send(event: string, data: unknown): void;
	beat(): void;
	close(): void;
}

const watchers = new Set<Watcher>();
/** Revisions as they were last told; the company's own has no name. */
let known: Map<string, number> | null = null;
/** Keeps proxies from closing what is silent; and so often it is asked whether those who listen still may. */
const HEARTBEAT_MS = 25_000;
let heart: ReturnType<typeof setInterval> | undefined;

/** Beats for all streams while there are any. */
function beat(db: Knex): void {
	heart ??= setInterval(() => {
		void dismiss(db)
			.catch(() => {})
			.then(() => watchers.forEach((w) => w.beat()));
	}, HEARTBEAT_MS);
	heart.unref();
}

/** Ends the streams of those whose session has ended, or who may not see the scenario any more. */
async function dismiss(db: Knex): Promise<void> {
	if (!watchers.size) return;
	const open = await openAmong(db, [...new Set([...watchers].map((w) => w.session))]);
	const { departments } = (await companyState(db)).structure;
	const scenarios = new Map((await listScenarios(db)).map((s) => [s.code, s]));
	for (const w of [...watchers]) {
		const scenario = scenarios.get(w.scenario);
		if (!open.has(w.session) || !scenario || !maySeeScenario(w.user, scenario, departments)) w.close();
	}
}

/** Ends the streams of a session at once. */
export function endSession(session: string): void {
	for (const w of [...watchers]) if (w.session === session) w.close();
}

const Revised = z.object({ code: stored.text, revision: stored.whole });
const CompanyRevised = Revised.pick({ revision: true });

async function revisions(db: Knex): Promise<Map<string, number>> {
	const scenarios = await stored.rows(Revised, db('scenario').select('code', 'revision'));
	const company = await stored.row(CompanyRevised, db('company').first('revision'));
	return new Map([['', company?.revision ?? 0], ...scenarios.map((s) => [s.code, s.revision] as const)]);
}

function tellWhoIsThere(scenario: string): void {
	const there = [...watchers].filter((w) => w.scenario === scenario);
	for (const w of there) {
		const others = new Map<string, Present>();
		for (const { user, at } of there)
			if (user.email !== w.user.email) others.set(user.email, { name: user.name, at });
		w.send('present', [...others.values()]);
	}
}

/** The state of all that a page of a scenario shows: the company, the scenario, and those that it rests on. */
function stateOf(
	scenario: string,
	all: ReadonlyMap<string, number>,
	shown: ReadonlyMap<string, Set<string>>
) {
	const codes = [...(shown.get(scenario) ?? [scenario])].sort();
	return ['', ...codes].map((code) => all.get(code) ?? 0).join('.');
}

/** A stream of what happens in a scenario, until the reader goes. The caller has asked whether the user may see it. */
export async function watch(db: Knex, wanted: Watch): Promise<ReadableStream<Uint8Array>> {
	known ??= await revisions(db);
	const now = stateOf(wanted.scenario, known, await shownWith(db));
	const encoder = new TextEncoder();
	let watcher: Watcher;
	const leave = () => {
		if (watchers.delete(watcher)) tellWhoIsThere(wanted.scenario);
		if (!watchers.size) {
			clearInterval(heart);
			heart = undefined;
		}
	};
	return new ReadableStream({
		start(controller) {
			const write = (text: string) => {
				try {
					controller.enqueue(encoder.encode(text));
				} catch {
					// The reader is gone.
					leave();
				}
			};
			watcher = {
				...wanted,
				send: (event, data) => write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`),
				beat: () => write(': \n\n'),
				close: () => {
					leave();
					controller.close();
				}
			};
			watchers.add(watcher);
			beat(db);
			// A page that comes back compares this with what it knew.
			watcher.send('hello', now);
			tellWhoIsThere(wanted.scenario);
		},
		cancel: leave
	});
}

/** After something may have been saved: whoever looks at what has changed is told, once it is there to be read. */
export async function tellChanges(context: Context, tab: string): Promise<void> {
	const { db, user } = context;
	if (!watchers.size || !known) return;
	const before = known;
	known = await revisions(db);
	const changed = new Set([...known].flatMap(([code, n]) => (before.get(code) === n ? [] : [code])));
	if (!changed.size) return;
	await dismiss(db);
	const shown = await shownWith(db);
	const touches = (scenario: string) => [...(shown.get(scenario) ?? [scenario])].some((c) => changed.has(c));
	for (const w of watchers)
		if (changed.has('') || touches(w.scenario))
			w.send('saved', {
				now: stateOf(w.scenario, known, shown),
				by: w.tab === tab ? null : user.name
			});
}

// A server that is told to end does not wait for pages that listen.
for (const signal of ['SIGTERM', 'SIGINT'] as const)
	process.once(signal, () => {
		for (const w of [...watchers]) w.close();
		// Where nobody else minds the signal it does what it would have done.
		if (process.listenerCount(signal) === 0) process.kill(process.pid, signal);
	});
