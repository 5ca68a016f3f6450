import { z } from 'zod';
import { copyAsItStood } from '$lib/server/as-of';
import { takes } from '$lib/server/http';
import { Known } from '$lib/server/schemas';

export const POST = takes(
	{ may: 'change scenarios', body: z.strictObject({ batch: Known }) },
	async ({ db, user, event, input }) => ({
		code: await copyAsItStood(db, user, event.params.code!, input.batch)
	})
);
