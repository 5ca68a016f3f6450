import { z } from 'zod';
import { closeMonth, proposeClose } from '$lib/server/close';
import { api, body } from '$lib/server/http';

export const GET = api(async ({ db, user }) => proposeClose(db, user));

const Close = z.strictObject({
	month: z.int(),
	from: z.string(),
	name: z.string().trim().min(1).max(80),
	accounts: z.enum(['year-ago', 'last', 'blank']).default('year-ago'),
	followers: z.array(z.string()).max(200).default([]),
	despiteUnmapped: z.boolean().default(false)
});

export const POST = api(async ({ db, user, event }) => ({
	scenario: await closeMonth(db, user, await body(event, Close))
}));
