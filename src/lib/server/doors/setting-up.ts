/** The door to an installation without a company: open to whoever has the key that the server printed, and once. */
import type { RequestEvent } from '@sveltejs/kit';
import type { Knex } from 'knex';
import { z } from 'zod';
import { hasCompany } from '../company/subjects/company';
import { mustHaveKey } from '../founding/key';
import { check } from '../platform/check';
import { Refusal } from '../platform/refusal';
import { database } from '../platform/database';
import { UPLOAD_LIMIT } from '../platform/settings';
import { answering, takesFromAnyone } from './http';
import { readUpload } from './uploads';

const Keyed = z.looseObject({ key: z.string().max(100).default('') });
/** Bytes: what is brought is text of several megabytes. */
const MOST = 16 * 1024 * 1024;

/** Handles a request with the key; `answers` is what else it holds. Refuses with 403 for another key, 409 where there is a company. */
export const takesWithKey = <T>(
	shape: z.ZodType<T>,
	handler: (call: { db: Knex; event: RequestEvent; answers: T }) => Promise<unknown>
) =>
	takesFromAnyone(MOST, async ({ db, event, body }) => {
		const { key, ...answers } = check(body, Keyed);
		await mustBeOpen(db, event, key);
		return handler({ db, event, answers: check(answers, shape) });
	});

/** The same with an uploaded file beside it. The key stands in the address: without it nothing of the file is read. */
export const uploadsWithKey = <T>(
	shape: z.ZodType<T>,
	handler: (call: {
		db: Knex;
		event: RequestEvent;
		answers: T;
		file: { name: string; bytes: Uint8Array };
	}) => Promise<unknown>
) =>
	answering(async (event) => {
		const db = await database();
		await mustBeOpen(db, event, event.url.searchParams.get('key') ?? '');
		const { request, ...file } = await readUpload(event.request, UPLOAD_LIMIT);
		return handler({ db, event, answers: check(request, shape), file });
	});

async function mustBeOpen(db: Knex, event: RequestEvent, key: string): Promise<void> {
	if (await hasCompany(db)) throw new Refusal(409, 'This installation has its company already. Sign in.');
	mustHaveKey(key, event.getClientAddress());
}
