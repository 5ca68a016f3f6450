import { z } from 'zod';
import { mustMay } from '$lib/server/auth/policy';
import { api, body } from '$lib/server/http';
import { copyScenario, listScenarios } from '$lib/server/scenarios';
import { companyState } from '$lib/server/structure';
import { ScenarioKind } from '$lib/core/model/schema';

export const GET = api(async ({ db }) => ({ scenarios: await listScenarios(db) }));

const Copy = z.strictObject({
	from: z.string(),
	name: z.string().trim().min(1).max(80),
	kind: ScenarioKind.exclude(['actuals'])
});

export const POST = api(async ({ db, user, event }) => {
	const { structure } = await companyState(db);
	mustMay(user, 'change scenarios', structure.departments);
	const { from, name, kind } = await body(event, Copy);
	return { code: await copyScenario(db, from, name, kind) };
});
