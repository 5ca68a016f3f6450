import { z } from 'zod';
import { Code } from '$lib/core/model/schema';
import { api, body, query } from '$lib/server/http';
import { createModel } from '$lib/server/model-design';
import { listModels } from '$lib/server/models';

export const GET = api(async ({ db, user, event }) => ({
	models: await listModels(db, user, query(event.url, z.object({ scenario: z.string() })).scenario)
}));

const Dimensions = z
	.array(Code)
	.max(6)
	.refine((list) => new Set(list).size === list.length, 'each dimension once');
const NewModel = z.strictObject({
	scenarios: z.array(z.string()).min(1).max(200),
	name: z.string().trim().min(1).max(120),
	description: z.string().max(2000).default(''),
	from: z.discriminatedUnion('kind', [
		z.strictObject({ kind: z.literal('blank'), dimensions: Dimensions }),
		z.strictObject({ kind: z.literal('template'), template: z.string(), dimensions: Dimensions }),
		z.strictObject({ kind: z.literal('copy'), model: z.string(), withValues: z.boolean().default(false) })
	]),
	rows: z
		.discriminatedUnion('kind', [
			z.strictObject({ kind: z.literal('all') }),
			z.strictObject({ kind: z.literal('none') }),
			z.strictObject({ kind: z.literal('like'), model: z.string() })
		])
		.default({ kind: 'none' })
});

export const POST = api(async ({ db, user, event }) => ({
	code: await createModel(db, user, await body(event, NewModel))
}));
