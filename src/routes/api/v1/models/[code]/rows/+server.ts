import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { addRows, removeRows } from '$lib/server/model-rows';

const Rows = z.strictObject({
	action: z.enum(['add', 'remove']),
	rows: z.array(z.array(z.string()).min(1).max(6)).min(1).max(20_000)
});

export const POST = api(async ({ db, user, event }) => {
	const { action, rows } = await body(event, Rows);
	const change = action === 'add' ? addRows : removeRows;
	return { rows: await change(db, user, event.params.code!, rows) };
});
