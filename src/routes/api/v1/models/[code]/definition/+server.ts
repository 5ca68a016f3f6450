import { z } from 'zod';
import { ModelDefinition } from '$lib/core/blocks/driver-model/schema';
import { api, query, takes } from '$lib/server/doors/http';
import { changeModel, designOf } from '$lib/server/models/design';
import { Known, KnownList } from '$lib/server/platform/schemas';

export const GET = api(({ context, event }) => {
	const { scenario } = query(event.url, z.object({ scenario: Known }));
	return designOf(context, scenario, event.params.code!);
});

const Change = z.strictObject({
	scenarios: KnownList(200).min(1),
	version: Known.nullable(),
	definition: (ModelDefinition as z.ZodType<ModelDefinition>).nullable(),
	drop: z.boolean().default(false)
});

export const POST = takes(
	{ may: 'change driver models', body: Change, size: 8 * 1024 * 1024 },
	async ({ context, event, input }) => {
		await changeModel(context, { ...input, model: event.params.code! });
	}
);
