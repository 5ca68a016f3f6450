import { api } from '$lib/server/doors/http';
import { restoreScenario } from '$lib/server/scenarios/list';

export const POST = api(async ({ context, event }) => ({
	name: await restoreScenario(context, event.params.code!)
}));
