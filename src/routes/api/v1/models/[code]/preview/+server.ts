import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { previewModel } from '$lib/server/models/preview';
import {
	Amount,
	Arrangement,
	CellPlace,
	CELLS_SIZE,
	Known,
	MOST_CELLS,
	PeriodText
} from '$lib/server/platform/schemas';

const Request = z.strictObject({
	...Arrangement.shape,
	scenario: Known,
	from: PeriodText,
	to: PeriodText,
	periods: z.enum(['company', 'model']).default('company'),
	edits: z.array(z.strictObject({ ...CellPlace.omit({ block: true }).shape, value: Amount })).max(MOST_CELLS)
});

export const POST = takes(
	{ may: 'see driver models', body: Request, size: CELLS_SIZE },
	async ({ context, event, input: { edits, empty, ...wanted } }) => ({
		changes: await previewModel(
			context,
			{ ...wanted, model: event.params.code!, hideEmpty: empty === 'hide' },
			edits
		)
	})
);
