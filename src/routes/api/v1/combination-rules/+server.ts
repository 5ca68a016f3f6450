import { z } from 'zod';
import { CombinationRule } from '$lib/core/model/schema';
import { putRule, readCombinationRules } from '$lib/server/combinations';
import { api, body } from '$lib/server/http';

export const GET = api(async ({ db, user }) => ({ rules: await readCombinationRules(db, user) }));

export const POST = api(async ({ db, user, event }) => {
	await putRule(db, user, await body(event, CombinationRule as z.ZodType<CombinationRule>));
});
