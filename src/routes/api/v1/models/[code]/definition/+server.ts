import { z } from 'zod';
import { ModelDefinition } from '$lib/core/model/schema';
import { api, body, query } from '$lib/server/http';
import { changeModel, designOf } from '$lib/server/model-design';

export const GET = api(({ db, user, event }) => {
	const { scenario } = query(event.url, z.object({ scenario: z.string() }));
	return designOf(db, user, scenario, event.params.code!);
});

const Change = z.strictObject({
	scenarios: z.array(z.string()).min(1).max(200),
	version: z.string().nullable(),
	definition: (ModelDefinition as z.ZodType<ModelDefinition>).nullable(),
	drop: z.boolean().default(false)
});

export const POST = api(async ({ db, user, event }) => {
	await changeModel(db, user, { ...(await body(event, Change)), model: event.params.code! });
});
