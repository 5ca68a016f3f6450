import type { z } from 'zod';
import { CombinationRule } from '$lib/core/model/schema';
import { tryRule } from '$lib/server/combinations';
import { api, body } from '$lib/server/http';

export const POST = api(async ({ db, user, event }) =>
	tryRule(db, user, await body(event, CombinationRule as z.ZodType<CombinationRule>))
);
