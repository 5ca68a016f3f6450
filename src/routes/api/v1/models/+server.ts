import { z } from 'zod';
import { CalendarSpec } from '$lib/core/calendar/spec';
import { Code } from '$lib/core/company/schema';
import { api, query, takes } from '$lib/server/doors/http';
import { createModel } from '$lib/server/models/design';
import { listModels } from '$lib/server/models/models';
import { Known, KnownList, Name, Prose } from '$lib/server/platform/schemas';

export const GET = api(async ({ context, event }) => ({
	models: await listModels(context, query(event.url, z.object({ scenario: Known })).scenario)
}));

const Dimensions = z
	.array(Code)
	.max(6)
	.refine((list) => new Set(list).size === list.length, 'each dimension once');
/** `calendar`: its own, where it is not kept in the company’s periods. */
const Form = { dimensions: Dimensions, calendar: CalendarSpec.optional() };
const NewModel = z.strictObject({
	scenarios: KnownList(200).min(1),
	name: Name(120),
	description: Prose(2000).default(''),
	from: z.discriminatedUnion('kind', [
		z.strictObject({ kind: z.literal('blank'), ...Form }),
		z.strictObject({ kind: z.literal('template'), template: Known, ...Form }),
		z.strictObject({ kind: z.literal('copy'), model: Known, withValues: z.boolean().default(false) })
	]),
	rows: z
		.discriminatedUnion('kind', [
			z.strictObject({ kind: z.literal('all') }),
			z.strictObject({ kind: z.literal('none') }),
			z.strictObject({ kind: z.literal('like'), model: Known })
		])
		.default({ kind: 'none' })
});

export const POST = takes({ may: 'change driver models', body: NewModel }, async ({ context, input }) => ({
	code: await createModel(context, input)
}));
