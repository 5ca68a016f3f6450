import { z } from 'zod';
import { asked } from '$lib/server/doors/http';
import { readParts } from '$lib/server/accounts/plan-parts';
import { inCalendar, inOrder, Known, Money, Window } from '$lib/server/platform/schemas';

const Query = inCalendar((calendar) =>
	z
		.object({
			scenario: Known,
			department: Known,
			like: Known.optional(),
			money: Money.optional(),
			/** Codes with commas between them; all when absent. */
			accounts: z.string().max(12_000).optional(),
			...Window(calendar)
		})
		.superRefine(inOrder)
);

export const GET = asked(Query, ({ context, input: { department, accounts, ...window } }) =>
	readParts(context, window, department, accounts ? [...new Set(accounts.split(','))] : null)
);
