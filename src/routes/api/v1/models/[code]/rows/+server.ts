import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { addRows, removeRows } from '$lib/server/models/rows';
import { Known } from '$lib/server/platform/schemas';

const Rows = z.strictObject({
	action: z.enum(['add', 'remove']),
	rows: z.array(z.array(Known).min(1).max(6)).min(1).max(20_000),
	/** Blocked combinations are left out; without it one of them refuses all. */
	leaveOut: z.boolean().default(false)
});

export const POST = takes(
	{ may: 'change driver models', body: Rows, size: 8 * 1024 * 1024 },
	async ({ context, event, input: { action, rows, leaveOut } }) => {
		const model = event.params.code!;
		return action === 'add'
			? addRows(context, model, rows, leaveOut)
			: { rows: await removeRows(context, model, rows) };
	}
);
