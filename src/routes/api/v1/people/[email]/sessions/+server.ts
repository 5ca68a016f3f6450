import { api } from '$lib/server/doors/http';
import { endSession } from '$lib/server/doors/live';
import { signOutEverywhere } from '$lib/server/people/people';

/** Signs somebody out everywhere. */
export const DELETE = api(async ({ context, event }) => {
	const ended = await signOutEverywhere(context, event.params.email!);
	for (const hash of ended) endSession(hash);
	return { ended: ended.length };
});
