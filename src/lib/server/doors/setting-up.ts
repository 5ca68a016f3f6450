/** The door to an installation without a company: open to whoever has the key that the server printed, and once. */
import type { RequestEvent } from '@sveltejs/kit';
import type { Knex } from 'knex';
import { z } from 'zod';
import { hasCompany } from '../company/subjects/company';
import { mustHaveKey } from '../founding/key';
import { check } from '../platform/check';
import { Refusal } from '../platform/refusal';
import { takesFromAnyone } from './http';

const Keyed = z.looseObject({ key: z.string().max(100).default('') });
/** Bytes: what is brought is text of several megabytes. */
const MOST = 16 * 1024 * 1024;

/** Handles a request with the key; `answers` is what else it holds. Refuses with 403 for another key, 409 where there is a company. */
export const takesWithKey = <T>(
	shape: z.ZodType<T>,
	handler: (call: { db: Knex; event: RequestEvent; answers: T }) => Promise<unknown>
) =>
	takesFromAnyone(MOST, async ({ db, event, body }) => {
		if (await hasCompany(db)) throw new Refusal(409, 'This installation has its company already. Sign in.');
		const { key, ...answers } = check(body, Keyed);
		mustHaveKey(key, event.getClientAddress());
		return handler({ db, event, answers: check(answers, shape) });
	});
