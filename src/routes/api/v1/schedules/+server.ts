import { z } from 'zod';
import { api, query, takes } from '$lib/server/doors/http';
import { Keyed, Known, KnownList, Name } from '$lib/server/platform/schemas';
import { createSchedule } from '$lib/server/schedules/design';
import { listSchedules } from '$lib/server/schedules/schedules';

export const GET = api(async ({ context, event }) => ({
	schedules: await listSchedules(context, query(event.url, z.object({ scenario: Known })).scenario)
}));

const NewSchedule = z.strictObject({
	scenarios: KnownList(200).min(1),
	name: Name(120),
	one: z.string().trim().max(40).default(''),
	from: z.discriminatedUnion('kind', [
		z.strictObject({ kind: z.literal('blank') }),
		z.strictObject({
			kind: z.literal('template'),
			template: Known,
			/** Line → account to which it is posted. */
			accounts: Keyed(Known, 100).default({})
		}),
		z.strictObject({ kind: z.literal('copy'), schedule: Known, withRows: z.boolean().default(false) })
	])
});

export const POST = takes({ may: 'change schedules', body: NewSchedule }, async ({ context, input }) => ({
	code: await createSchedule(context, input)
}));
