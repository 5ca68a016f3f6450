import { z } from 'zod';
import { reopenMonth } from '$lib/server/scenarios/close';
import { takes } from '$lib/server/doors/http';
import { inCalendar, Period, Prose } from '$lib/server/platform/schemas';

const Reopen = inCalendar((calendar) => z.strictObject({ month: Period(calendar), why: Prose(500) }));

export const POST = takes({ may: 'close months', body: Reopen }, async ({ context, input }) => {
	await reopenMonth(context, input.month, input.why);
});
