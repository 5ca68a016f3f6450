import { z } from 'zod';
import { AdjustmentDefinition } from '$lib/core/inputs/schema';
import { takes } from '$lib/server/doors/http';
import { inCalendar, inOrder, Known, Money, Window } from '$lib/server/platform/schemas';
import { tryAdjustments } from '$lib/server/scenarios/what-if';

const Try = inCalendar((calendar) =>
	z
		.strictObject({
			department: Known,
			...Window(calendar),
			money: Money,
			adjustments: z.array(AdjustmentDefinition).max(200)
		})
		.superRefine(inOrder)
);

export const POST = takes(
	{ module: 'what-ifs', may: 'see driver models', body: Try, size: 512 * 1024 },
	async ({ context, event, input: { adjustments, ...watched } }) => ({
		effects: await tryAdjustments(context, { scenario: event.params.code!, ...watched }, adjustments)
	})
);
