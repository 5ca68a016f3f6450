import { z } from 'zod';
import { api, body } from '$lib/server/http';
import { today } from '$lib/server/settings';
import { listRounds, openRound } from '$lib/server/submissions';

export const GET = api(async ({ db, user }) => ({ rounds: await listRounds(db, user, today()) }));

const Round = z.strictObject({
	name: z.string().trim().min(1).max(80),
	scenario: z.string(),
	due: z.iso.date(),
	instructions: z.string().max(4000).default(''),
	departments: z.array(z.string()).max(2000)
});

export const POST = api(async ({ db, user, event }) => ({
	code: await openRound(db, user, await body(event, Round))
}));
