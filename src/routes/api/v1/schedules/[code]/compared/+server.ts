import { z } from 'zod';
import type { Calendar } from '$lib/core/calendar/calendar';
import { SCHEDULE_PERIODS } from '$lib/core/views/written';
import { asked } from '$lib/server/doors/http';
import { inCompanyWriting } from '$lib/server/doors/writing';
import { inOrder, Known, Window } from '$lib/server/platform/schemas';
import { compareSchedule } from '$lib/server/schedules/compare';

const Query = (calendar: Calendar) =>
	z
		.object({
			...Window(calendar),
			scenario: Known,
			with: Known,
			department: Known.nullable().default(null),
			line: Known.optional()
		})
		.superRefine(inOrder);

export const GET = asked(Query, async ({ context, event, input: { with: other, ...asked } }) =>
	inCompanyWriting(
		context.db,
		await compareSchedule(context, { ...asked, schedule: event.params.code! }, other),
		SCHEDULE_PERIODS
	)
);
