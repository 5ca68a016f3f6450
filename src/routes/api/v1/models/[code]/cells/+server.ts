import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { saveModelCells } from '$lib/server/models';
import { Amount } from '$lib/server/schemas';

const Cells = z.strictObject({
	scenario: z.string(),
	edits: z
		.array(
			z.strictObject({ line: z.string(), row: z.string(), period: z.int(), before: Amount, value: Amount })
		)
		.min(1)
		.max(200_000)
});

export const POST = api(async ({ db, user, event }) => {
	const { scenario, edits } = await body(event, Cells);
	return { saved: await saveModelCells(db, user, scenario, event.params.code!, edits) };
});
