import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { saveFormula } from '$lib/server/models';

const Formula = z.strictObject({
	scenario: z.string(),
	line: z.string(),
	formula: z.string(),
	also: z.array(z.string()).max(200).default([])
});

export const POST = api(async ({ db, user, event }) => {
	await saveFormula(db, user, { ...(await body(event, Formula)), model: event.params.code! });
});
