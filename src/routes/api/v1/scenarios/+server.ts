import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { copyScenario } from '$lib/server/scenario-making';
import { listedFor } from '$lib/server/scenarios';
import { ScenarioKind } from '$lib/core/model/schema';

export const GET = api(async ({ db, user }) => ({ scenarios: await listedFor(db, user) }));

const Copy = z.strictObject({
	from: z.string(),
	name: z.string().trim().min(1).max(80),
	kind: ScenarioKind.exclude(['actuals']),
	notes: z.boolean().default(false)
});

export const POST = api(async ({ db, user, event }) => {
	const { from, name, kind, notes } = await body(event, Copy);
	return { code: await copyScenario(db, user, from, name, kind, notes) };
});
