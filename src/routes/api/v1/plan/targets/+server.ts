import { z } from 'zod';
import { api, query } from '$lib/server/doors/http';
import { inOrder, Known, Window } from '$lib/server/platform/schemas';
import { readTargets } from '$lib/server/accounts/targets';

const Query = z.object({ scenario: Known, ...Window }).superRefine(inOrder);

export const GET = api(({ db, user, event }) => {
	const { scenario, from, to } = query(event.url, Query);
	return readTargets(db, user, scenario, from, to);
});
