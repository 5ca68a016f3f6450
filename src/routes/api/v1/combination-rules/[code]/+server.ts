import { z } from 'zod';
import { removeRule, switchRule } from '$lib/server/models/combinations';
import { api, takes } from '$lib/server/doors/http';

export const PATCH = takes(
	{ may: 'change driver models', body: z.strictObject({ on: z.boolean() }) },
	async ({ context, event, input }) => {
		await switchRule(context, event.params.code!, input.on);
	}
);

export const DELETE = api(async ({ context, event }) => {
	await removeRule(context, event.params.code!);
});
