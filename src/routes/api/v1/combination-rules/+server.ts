import type { z } from 'zod';
import { CombinationRule } from '$lib/core/inputs/schema';
import { putRule, readCombinationRules } from '$lib/server/models/combinations';
import { api, takes } from '$lib/server/doors/http';

export const GET = api(async ({ db, user }) => ({ rules: await readCombinationRules(db, user) }));

export const POST = takes(
	{ may: 'change driver models', body: CombinationRule as z.ZodType<CombinationRule> },
	async ({ db, user, input }) => {
		await putRule(db, user, input);
	}
);
