import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { previewPlan } from '$lib/server/plan-parts';
import { Amount } from '$lib/server/schemas';

const Request = z.strictObject({
	scenario: z.string(),
	from: z.int(),
	to: z.int(),
	edits: z
		.array(z.strictObject({ account: z.string(), department: z.string(), period: z.int(), value: Amount }))
		.max(200_000),
	shown: z
		.array(z.strictObject({ department: z.string(), accounts: z.array(z.string()).nullable() }))
		.max(1000)
});

export const POST = api(async ({ db, user, event }) => {
	const { edits, shown, ...window } = await body(event, Request);
	return { rows: await previewPlan(db, user, window, edits, shown) };
});
