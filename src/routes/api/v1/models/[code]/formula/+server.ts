import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { saveFormula } from '$lib/server/models/models';
import { Known, KnownList } from '$lib/server/platform/schemas';

const Formula = z.strictObject({
	scenario: Known,
	line: Known,
	formula: z.string().min(1).max(4000),
	also: KnownList(200).default([])
});

export const POST = takes(
	{ may: 'change driver models', body: Formula },
	async ({ context, event, input }) => {
		await saveFormula(context, { ...input, model: event.params.code! });
	}
);
