import { z } from 'zod';
import { AdjustmentDefinition } from '$lib/core/inputs/schema';
import { changeAdjustments, readAdjustments } from '$lib/server/changes/adjustments';
import { api, takes } from '$lib/server/doors/http';
import { Known } from '$lib/server/platform/schemas';

const Change = z.discriminatedUnion('action', [
	z.strictObject({ action: z.literal('put'), adjustment: AdjustmentDefinition }),
	z.strictObject({ action: z.literal('switch'), code: Known, on: z.boolean() }),
	z.strictObject({ action: z.literal('move'), code: Known, to: z.int().min(0).max(1000) }),
	z.strictObject({ action: z.literal('remove'), code: Known })
]);

export const GET = api(async ({ context, event }) => ({
	adjustments: await readAdjustments(context, event.params.code!)
}));

export const POST = takes(
	{ module: 'what-ifs', may: 'change driver models', body: Change, size: 512 * 1024 },
	({ context, event, input }) => changeAdjustments(context, event.params.code!, input)
);
