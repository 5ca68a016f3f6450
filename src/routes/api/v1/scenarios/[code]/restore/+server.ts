import { api } from '$lib/server/http';
import { restoreScenario } from '$lib/server/scenario-list';

export const POST = api(async ({ db, user, event }) => ({
	name: await restoreScenario(db, user, event.params.code!)
}));
