import { z } from 'zod';
import { RowChange } from '$lib/core/blocks/schedule/row-changes';
import { BY_COLUMN, SCHEDULE_PERIODS } from '$lib/core/views/written';
import { takes } from '$lib/server/doors/http';
import { inCompanyWriting } from '$lib/server/doors/writing';
import {
	Amount,
	CellPlace,
	CELLS_SIZE,
	inCalendar,
	inOrder,
	Known,
	MOST_CELLS,
	ScheduleArrangement,
	Window
} from '$lib/server/platform/schemas';
import { previewSchedule } from '$lib/server/schedules/preview';

const Request = inCalendar((calendar) =>
	z
		.strictObject({
			...ScheduleArrangement.shape,
			...Window(calendar),
			scenario: Known,
			department: Known.nullable().default(null),
			changes: z.array(RowChange).max(MOST_CELLS).default([]),
			edits: z
				.array(z.strictObject({ ...CellPlace.shape, value: Amount }))
				.max(MOST_CELLS)
				.default([])
		})
		.superRefine(inOrder)
);

export const POST = takes(
	{ may: 'read schedules', body: Request, size: CELLS_SIZE },
	async ({ context, event, input: { changes, edits, ...wanted } }) =>
		inCompanyWriting(
			context.db,
			{
				changes: await previewSchedule(
					context,
					{ ...wanted, schedule: event.params.code! },
					{ changes, edits }
				)
			},
			SCHEDULE_PERIODS,
			BY_COLUMN
		)
);
