import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { newBatch } from '$lib/server/company/journal';
import { saveWritten } from '$lib/server/changes/save-cells';
import { Amount, CellPlace, CELLS_SIZE, MOST_CELLS } from '$lib/server/platform/schemas';

const Cells = z.strictObject({
	edits: z
		.array(z.strictObject({ ...CellPlace.shape, before: Amount, value: Amount }))
		.min(1)
		.max(MOST_CELLS)
});

export const POST = takes(
	{ may: 'plan figures', body: Cells, size: CELLS_SIZE },
	async ({ context, event, input: { edits } }) => {
		const batch = newBatch();
		return { saved: await saveWritten(context, event.params.code!, edits, batch), batch };
	}
);
