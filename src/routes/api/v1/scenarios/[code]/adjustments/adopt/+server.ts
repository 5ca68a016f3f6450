import { z } from 'zod';
import { adoptAdjustments } from '$lib/server/adjustments';
import { api, body } from '$lib/server/http';

const Adopt = z.strictObject({ codes: z.array(z.string()).min(1).max(200) });

export const POST = api(async ({ db, user, event }) =>
	adoptAdjustments(db, user, event.params.code!, (await body(event, Adopt)).codes)
);
