import { z } from 'zod';
import { removeRule, switchRule } from '$lib/server/models/combinations';
import { api, takes } from '$lib/server/doors/http';

export const PATCH = takes(
	{ may: 'change driver models', body: z.strictObject({ on: z.boolean() }) },
	async ({ db, user, event, input }) => {
		await switchRule(db, user, event.params.code!, input.on);
	}
);

export const DELETE = api(async ({ db, user, event }) => {
	await removeRule(db, user, event.params.code!);
});
