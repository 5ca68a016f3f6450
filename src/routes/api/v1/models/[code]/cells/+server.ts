import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { saveModelCells } from '$lib/server/models/models';
import {
	Amount,
	CELLS_SIZE,
	inCalendar,
	Known,
	MOST_CELLS,
	Period,
	RowKey
} from '$lib/server/platform/schemas';

const Cells = inCalendar((calendar) =>
	z.strictObject({
		scenario: Known,
		edits: z
			.array(
				z.strictObject({ line: Known, row: RowKey, period: Period(calendar), before: Amount, value: Amount })
			)
			.min(1)
			.max(MOST_CELLS)
	})
);

export const POST = takes(
	{ may: 'change driver models', body: Cells, size: CELLS_SIZE },
	async ({ db, user, event, input: { scenario, edits } }) => ({
		saved: await saveModelCells(db, user, scenario, event.params.code!, edits)
	})
);
