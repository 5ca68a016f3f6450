import { z } from 'zod';
import { undoSave } from '$lib/server/history';
import { api, body } from '$lib/server/http';

const Undo = z.strictObject({ batch: z.string().min(1).max(64) });

export const POST = api(async ({ db, user, event }) => ({
	undone: await undoSave(db, user, event.params.code!, (await body(event, Undo)).batch)
}));
