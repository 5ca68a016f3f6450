import { z } from 'zod';
import { api, query } from '$lib/server/doors/http';
import { readUnder } from '$lib/server/accounts/plan-parts';
import { inOrder, Known, Window } from '$lib/server/platform/schemas';

const Query = z
	.object({ scenario: Known, department: Known, account: Known, ...Window })
	.superRefine(inOrder);

export const GET = api(async ({ db, user, event }) => ({
	rows: await readUnder(db, user, query(event.url, Query))
}));
