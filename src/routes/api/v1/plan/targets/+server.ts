import { z } from 'zod';
import { api, query } from '$lib/server/http';
import { Month } from '$lib/server/schemas';
import { readTargets } from '$lib/server/targets';

const Query = z.object({ scenario: z.string(), from: Month, to: Month });

export const GET = api(({ db, user, event }) => {
	const { scenario, from, to } = query(event.url, Query);
	return readTargets(db, user, scenario, from, to);
});
