import { z } from 'zod';
import { api, query } from '$lib/server/doors/http';
import { readParts } from '$lib/server/accounts/plan-parts';
import { inOrder, Known, Window } from '$lib/server/platform/schemas';

const Query = z
	.object({
		scenario: Known,
		department: Known,
		/** Codes with commas between them; all when absent. */
		accounts: z.string().max(12_000).optional(),
		...Window
	})
	.superRefine(inOrder);

export const GET = api(({ db, user, event }) => {
	const { department, accounts, ...window } = query(event.url, Query);
	return readParts(db, user, window, department, accounts ? [...new Set(accounts.split(','))] : null);
});
