import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { saveItems } from '$lib/server/notes';
import { Amount, CellPlace } from '$lib/server/schemas';

const Items = z.strictObject({
	scenario: z.string(),
	cell: CellPlace,
	before: Amount,
	items: z
		.array(
			z.strictObject({
				description: z.string().trim().min(1).max(200),
				quantity: Amount,
				rate: Amount,
				amount: z.number().finite().min(-1e15).max(1e15)
			})
		)
		.max(200)
});

export const POST = api(async ({ db, user, event }) => {
	const { scenario, cell, items, before } = await body(event, Items);
	return { value: await saveItems(db, user, scenario, cell, items, before) };
});
