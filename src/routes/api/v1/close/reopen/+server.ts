import { z } from 'zod';
import { reopenMonth } from '$lib/server/close';
import { api, body } from '$lib/server/http';

const Reopen = z.strictObject({ month: z.int(), why: z.string().max(500) });

export const POST = api(async ({ db, user, event }) => {
	const { month, why } = await body(event, Reopen);
	await reopenMonth(db, user, month, why);
});
