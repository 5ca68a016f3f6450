import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { saveWrittenCells } from '$lib/server/models/models';
import { Amount, CELLS_SIZE, Known, MOST_CELLS, PeriodText, RowKey } from '$lib/server/platform/schemas';

const Cells = z.strictObject({
	scenario: Known,
	edits: z
		.array(z.strictObject({ line: Known, row: RowKey, period: PeriodText, before: Amount, value: Amount }))
		.min(1)
		.max(MOST_CELLS)
});

export const POST = takes(
	{ may: 'change driver models', body: Cells, size: CELLS_SIZE },
	async ({ context, event, input: { scenario, edits } }) => ({
		saved: await saveWrittenCells(context, scenario, event.params.code!, edits)
	})
);
