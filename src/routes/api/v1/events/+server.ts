import { z } from 'zod';
import { digest, SESSION_COOKIE } from '$lib/server/platform/auth/sessions';
import { api, query } from '$lib/server/doors/http';
import { watch } from '$lib/server/doors/live';
import { Known } from '$lib/server/platform/schemas';
import { mustSee } from '$lib/server/scenarios/scenarios';

const Query = z.object({
	scenario: Known,
	tab: z.string().max(64),
	at: z.string().max(200)
});

export const GET = api(async ({ context, event }) => {
	const wanted = query(event.url, Query);
	await mustSee(context, wanted.scenario);
	const session = digest(event.cookies.get(SESSION_COOKIE) ?? '');
	return new Response(await watch(context.db, { ...wanted, user: context.user, session }), {
		headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' }
	});
});
