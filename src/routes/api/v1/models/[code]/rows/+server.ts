import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { addRows, removeRows } from '$lib/server/model-rows';

const Rows = z.strictObject({
	action: z.enum(['add', 'remove']),
	rows: z.array(z.array(z.string()).min(1).max(6)).min(1).max(20_000),
	/** Blocked combinations are left out; without it one of them refuses all. */
	leaveOut: z.boolean().default(false)
});

export const POST = api(async ({ db, user, event }) => {
	const { action, rows, leaveOut } = await body(event, Rows);
	const model = event.params.code!;
	return action === 'add'
		? addRows(db, user, model, rows, leaveOut)
		: { rows: await removeRows(db, user, model, rows) };
});
