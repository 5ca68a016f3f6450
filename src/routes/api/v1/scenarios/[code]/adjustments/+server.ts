import { z } from 'zod';
import { AdjustmentDefinition } from '$lib/core/model/schema';
import { changeAdjustments, readAdjustments } from '$lib/server/adjustments';
import { api, body } from '$lib/server/http';

const Change = z.discriminatedUnion('action', [
	z.strictObject({ action: z.literal('put'), adjustment: AdjustmentDefinition }),
	z.strictObject({ action: z.literal('switch'), code: z.string(), on: z.boolean() }),
	z.strictObject({ action: z.literal('move'), code: z.string(), to: z.int().min(0) }),
	z.strictObject({ action: z.literal('remove'), code: z.string() })
]);

export const GET = api(async ({ db, user, event }) => ({
	adjustments: await readAdjustments(db, user, event.params.code!)
}));

export const POST = api(async ({ db, user, event }) =>
	changeAdjustments(db, user, event.params.code!, await body(event, Change))
);
