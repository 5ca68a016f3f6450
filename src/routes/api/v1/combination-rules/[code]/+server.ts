import { z } from 'zod';
import { removeRule, switchRule } from '$lib/server/combinations';
import { api, body } from '$lib/server/http';

export const PATCH = api(async ({ db, user, event }) => {
	const { on } = await body(event, z.strictObject({ on: z.boolean() }));
	await switchRule(db, user, event.params.code!, on);
});

export const DELETE = api(async ({ db, user, event }) => {
	await removeRule(db, user, event.params.code!);
});
