import type { z } from 'zod';
import { CombinationRule } from '$lib/core/inputs/schema';
import { tryRule } from '$lib/server/models/combinations';
import { takes } from '$lib/server/doors/http';

export const POST = takes(
	{
		module: 'combinations',
		may: 'change driver models',
		body: CombinationRule as z.ZodType<CombinationRule>
	},
	({ context, input }) => tryRule(context, input)
);
