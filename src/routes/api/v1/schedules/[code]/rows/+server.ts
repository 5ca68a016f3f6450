import { z } from 'zod';
import { RowChange } from '$lib/core/blocks/schedule/row-changes';
import { newBatch } from '$lib/server/company/journal';
import { takes } from '$lib/server/doors/http';
import { Amount, CellPlace, CELLS_SIZE, Known, MOST_CELLS } from '$lib/server/platform/schemas';
import { cellsRead } from '$lib/server/scenarios/block-periods';
import { saveRows } from '$lib/server/schedules/rows';
import { DECISIONS } from '$lib/server/schedules/taken-over';

/** Changes of rows, and figures that are typed in their months, as one save. */
const Changes = z.strictObject({
	scenario: Known,
	changes: z.array(RowChange).max(MOST_CELLS).default([]),
	edits: z
		.array(z.strictObject({ ...CellPlace.shape, before: Amount, value: Amount }))
		.max(MOST_CELLS)
		.default([]),
	/** What becomes of figures that are typed where rows come to be posted. */
	typed: z.enum(DECISIONS).optional()
});

export const POST = takes(
	{ may: 'change schedules', body: Changes, size: CELLS_SIZE },
	async ({ context, event, input: { scenario, changes, edits, typed } }) => {
		const batch = newBatch();
		const read = await cellsRead(context, scenario, edits);
		const saved = await saveRows(
			context,
			{ scenario, schedule: event.params.code!, changes, edits: read, typed },
			{ batch }
		);
		return { saved, batch };
	}
);
