import { z } from 'zod';
import { ScheduleDefinition } from '$lib/core/blocks/schedule/schema';
import { api, query, takes } from '$lib/server/doors/http';
import { Keyed, Known, KnownList } from '$lib/server/platform/schemas';
import { changeSchedule, scheduleDesign } from '$lib/server/schedules/design';
import { DECISIONS } from '$lib/server/schedules/taken-over';

export const GET = api(({ context, event }) => {
	const { scenario } = query(event.url, z.object({ scenario: Known }));
	return scheduleDesign(context, scenario, event.params.code!);
});

const Change = z.strictObject({
	scenarios: KnownList(200).min(1),
	version: Known.nullable(),
	definition: (ScheduleDefinition as z.ZodType<ScheduleDefinition>).nullable(),
	/** Codes of columns that have got another: old → new. */
	renamed: Keyed(Known, 100).default({}),
	drop: z.boolean().default(false),
	/** What becomes of figures that are typed where it comes to be posted. */
	typed: z.enum(DECISIONS).optional()
});

export const POST = takes(
	{ may: 'change schedules', body: Change, size: 8 * 1024 * 1024 },
	async ({ context, event, input }) => {
		await changeSchedule(context, { ...input, schedule: event.params.code! });
	}
);
