import { z } from 'zod';
import { ScenarioKind } from '$lib/core/scenario/schema';
import { api, takes } from '$lib/server/doors/http';
import { copyScenario } from '$lib/server/scenarios/making';
import { listedFor } from '$lib/server/scenarios/scenarios';
import { Known, Name } from '$lib/server/platform/schemas';

export const GET = api(async ({ db, user }) => ({ scenarios: await listedFor(db, user) }));

const Copy = z.strictObject({
	from: Known,
	name: Name(80),
	kind: ScenarioKind.exclude(['actuals']),
	notes: z.boolean().default(false)
});

export const POST = takes(
	{ may: 'change scenarios', body: Copy },
	async ({ db, user, input: { from, name, kind, notes } }) => ({
		code: await copyScenario(db, user, from, name, kind, notes)
	})
);
