import { z } from 'zod';
import { setLock } from '$lib/server/close';
import { takes } from '$lib/server/http';
import { Prose } from '$lib/server/schemas';

const Lock = z.strictObject({ locked: z.boolean(), why: Prose(500).default('') });

export const POST = takes({ may: 'change scenarios', body: Lock }, async ({ db, user, event, input }) => {
	await setLock(db, user, event.params.code!, input.locked, input.why);
});
