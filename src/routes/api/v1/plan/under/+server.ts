import { z } from 'zod';
import { api, query } from '$lib/server/http';
import { Month } from '$lib/server/schemas';
import { readUnder } from '$lib/server/plan-parts';

const Query = z.object({
	scenario: z.string(),
	department: z.string(),
	account: z.string(),
	from: Month,
	to: Month
});

export const GET = api(async ({ db, user, event }) => ({
	rows: await readUnder(db, user, query(event.url, Query))
}));
