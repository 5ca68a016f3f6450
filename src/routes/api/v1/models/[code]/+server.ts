import { z } from 'zod';
import { api, query } from '$lib/server/http';
import { readModel } from '$lib/server/models';
import { Month } from '$lib/server/schemas';

const list = (text: string) => text.split(',').filter(Boolean);
const Query = z.object({
	scenario: z.string(),
	from: Month,
	to: Month,
	open: z.string().default('').transform(list),
	/** dimension:member, separated by commas */
	where: z
		.string()
		.default('')
		.transform((t) => Object.fromEntries(list(t).map((pair) => pair.split(':') as [string, string])))
});

export const GET = api(async ({ db, user, event }) =>
	readModel(db, user, { ...query(event.url, Query), model: event.params.code! })
);
