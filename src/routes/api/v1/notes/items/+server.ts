import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { saveItems } from '$lib/server/changes/notes';
import { Amount, CellPlace, Known, Name } from '$lib/server/platform/schemas';

const Items = z.strictObject({
	scenario: Known,
	cell: CellPlace,
	before: Amount,
	items: z
		.array(
			z.strictObject({
				description: Name(200),
				quantity: Amount,
				rate: Amount,
				amount: Amount.unwrap()
			})
		)
		.max(200)
});

export const POST = takes(
	{ may: 'plan figures', body: Items, size: 256 * 1024 },
	async ({ context, input: { scenario, cell, items, before } }) => ({
		value: await saveItems(context, scenario, cell, items, before)
	})
);
