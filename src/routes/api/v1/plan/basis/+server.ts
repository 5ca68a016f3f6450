import { z } from 'zod';
import { saveBasis } from '$lib/server/department-plan';
import { api, body } from '$lib/server/http';
import { Basis } from '$lib/server/schemas';

const Request = z.strictObject({
	scenario: z.string(),
	department: z.string(),
	account: z.string(),
	basis: Basis
});

export const POST = api(async ({ db, user, event }) => {
	const r = await body(event, Request);
	await saveBasis(db, user, r.scenario, r.department, r.account, r.basis);
});
