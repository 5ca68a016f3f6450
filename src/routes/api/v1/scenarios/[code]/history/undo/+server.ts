import { z } from 'zod';
import { undoSave } from '$lib/server/changes/history';
import { takes } from '$lib/server/doors/http';
import { Known } from '$lib/server/platform/schemas';

export const POST = takes(
	{ may: 'change driver models', body: z.strictObject({ batch: Known.min(1) }) },
	async ({ db, user, event, input }) => ({
		undone: await undoSave(db, user, event.params.code!, input.batch)
	})
);
