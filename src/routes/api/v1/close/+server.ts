import { inCompanyWriting } from '$lib/server/doors/writing';
import { CLOSE_PERIODS } from '$lib/core/views/written';
import { z } from 'zod';
import { closeMonth, proposeClose } from '$lib/server/scenarios/close';
import { api, takes } from '$lib/server/doors/http';
import { inCalendar, Known, KnownList, Name, Period } from '$lib/server/platform/schemas';

export const GET = api(async ({ context }) =>
	inCompanyWriting(context.db, await proposeClose(context), CLOSE_PERIODS)
);

const Close = inCalendar((calendar) =>
	z.strictObject({
		month: Period(calendar),
		from: Known,
		name: Name(80),
		accounts: z.enum(['year-ago', 'last', 'blank']).default('year-ago'),
		followers: KnownList(200).default([]),
		despiteUnmapped: z.boolean().default(false)
	})
);

export const POST = takes({ may: 'close months', body: Close }, async ({ context, input }) => ({
	scenario: await closeMonth(context, input)
}));
