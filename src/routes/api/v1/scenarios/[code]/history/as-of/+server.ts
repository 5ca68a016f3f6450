import { z } from 'zod';
import { copyAsItStood } from '$lib/server/as-of';
import { api, body } from '$lib/server/http';

export const POST = api(async ({ db, user, event }) => {
	const { batch } = await body(event, z.strictObject({ batch: z.string() }));
	return { code: await copyAsItStood(db, user, event.params.code!, batch) };
});
