import { z } from 'zod';
import { asked } from '$lib/server/doors/http';
import { readUnder } from '$lib/server/accounts/plan-parts';
import { inCalendar, inOrder, Known, Money, Window } from '$lib/server/platform/schemas';

const Query = inCalendar((calendar) =>
	z
		.object({
			scenario: Known,
			department: Known,
			account: Known,
			like: Known.optional(),
			money: Money.optional(),
			...Window(calendar)
		})
		.superRefine(inOrder)
);

export const GET = asked(Query, async ({ context, input }) => ({ rows: await readUnder(context, input) }));
