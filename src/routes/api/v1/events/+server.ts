import { z } from 'zod';
import { api, query } from '$lib/server/http';
import { watch } from '$lib/server/live';
import { mustSee } from '$lib/server/scenarios';

const Query = z.object({
	scenario: z.string(),
	tab: z.string().max(64),
	at: z.string().max(200)
});

export const GET = api(async ({ db, user, event }) => {
	const wanted = query(event.url, Query);
	await mustSee(db, user, wanted.scenario);
	return new Response(await watch(db, { ...wanted, user }), {
		headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' }
	});
});
