import { z } from 'zod';
import type { Calendar } from '$lib/core/calendar/calendar';
import { BY_COLUMN, SCHEDULE_PERIODS } from '$lib/core/views/written';
import { asked } from '$lib/server/doors/http';
import { inCompanyWriting } from '$lib/server/doors/writing';
import { inOrder, Known, ScheduleText, Window } from '$lib/server/platform/schemas';
import { readSchedule } from '$lib/server/schedules/schedules';

const Query = (calendar: Calendar) =>
	z
		.object({
			...ScheduleText.shape,
			...Window(calendar),
			scenario: Known,
			department: Known.nullable().default(null)
		})
		.superRefine(inOrder);

export const GET = asked(Query, async ({ context, event, input }) =>
	inCompanyWriting(
		context.db,
		await readSchedule(context, { ...input, schedule: event.params.code! }),
		SCHEDULE_PERIODS,
		BY_COLUMN
	)
);
