import { z } from 'zod';
import { setLock } from '$lib/server/close';
import { api, body } from '$lib/server/http';

const Lock = z.strictObject({ locked: z.boolean(), why: z.string().max(500).default('') });

export const POST = api(async ({ db, user, event }) => {
	const { locked, why } = await body(event, Lock);
	await setLock(db, user, event.params.code!, locked, why);
});
