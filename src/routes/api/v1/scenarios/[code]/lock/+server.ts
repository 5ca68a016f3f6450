import { z } from 'zod';
import { setLock } from '$lib/server/scenarios/close';
import { takes } from '$lib/server/doors/http';
import { Prose } from '$lib/server/platform/schemas';

const Lock = z.strictObject({ locked: z.boolean(), why: Prose(500).default('') });

export const POST = takes({ may: 'change scenarios', body: Lock }, async ({ context, event, input }) => {
	await setLock(context, event.params.code!, input.locked, input.why);
});
