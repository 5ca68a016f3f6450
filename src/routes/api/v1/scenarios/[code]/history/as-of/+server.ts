import { z } from 'zod';
import { copyAsItStood } from '$lib/server/changes/as-of';
import { takes } from '$lib/server/doors/http';
import { Known } from '$lib/server/platform/schemas';

export const POST = takes(
	{ may: 'change scenarios', body: z.strictObject({ batch: Known }) },
	async ({ context, event, input }) => ({
		code: await copyAsItStood(context, event.params.code!, input.batch)
	})
);
