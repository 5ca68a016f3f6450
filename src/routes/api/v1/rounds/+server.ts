import { z } from 'zod';
import { api, takes } from '$lib/server/doors/http';
import { Known, KnownList, Name, Prose } from '$lib/server/platform/schemas';
import { today } from '$lib/server/platform/settings';
import { listRounds, openRound } from '$lib/server/rounds/submissions';

export const GET = api(async ({ context }) => ({ rounds: await listRounds(context, today()) }));

const Round = z.strictObject({
	name: Name(80),
	scenario: Known,
	due: z.iso.date(),
	instructions: Prose(4000).default(''),
	departments: KnownList(2000)
});

export const POST = takes(
	{ module: 'collecting', may: 'manage rounds', body: Round, size: 256 * 1024 },
	async ({ context, input }) => ({ code: await openRound(context, input) })
);
