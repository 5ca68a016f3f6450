import type { z } from 'zod';
import { CombinationRule } from '$lib/core/inputs/schema';
import { putRule, readCombinationRules } from '$lib/server/models/combinations';
import { api, takes } from '$lib/server/doors/http';

export const GET = api(async ({ context }) => ({ rules: await readCombinationRules(context) }));

export const POST = takes(
	{
		module: 'combinations',
		may: 'change driver models',
		body: CombinationRule as z.ZodType<CombinationRule>
	},
	async ({ context, input }) => {
		await putRule(context, input);
	}
);
