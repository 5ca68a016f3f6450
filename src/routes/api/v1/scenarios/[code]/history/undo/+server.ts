import { z } from 'zod';
import { undoSave } from '$lib/server/changes/history';
import { takes } from '$lib/server/doors/http';
import { Known } from '$lib/server/platform/schemas';

export const POST = takes(
	{ may: 'change driver models', body: z.strictObject({ batch: Known.min(1) }) },
	async ({ context, event, input }) => ({
		undone: await undoSave(context, event.params.code!, input.batch)
	})
);
