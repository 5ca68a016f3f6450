import { api } from '$lib/server/doors/http';
import { restoreScenario } from '$lib/server/scenarios/list';

export const POST = api(async ({ db, user, event }) => ({
	name: await restoreScenario(db, user, event.params.code!)
}));
