import { z } from 'zod';
import { api, query } from '$lib/server/http';
import { readParts } from '$lib/server/plan-parts';
import { Month } from '$lib/server/schemas';

const Query = z.object({
	scenario: z.string(),
	department: z.string(),
	/** Codes with commas between them; all when absent. */
	accounts: z.string().optional(),
	from: Month,
	to: Month
});

export const GET = api(({ db, user, event }) => {
	const { department, accounts, ...window } = query(event.url, Query);
	return readParts(db, user, window, department, accounts?.split(',') ?? null);
});
