import { z } from 'zod';
import { api, query } from '$lib/server/http';
import { listModels } from '$lib/server/models';

export const GET = api(async ({ db, user, event }) => ({
	models: await listModels(db, user, query(event.url, z.object({ scenario: z.string() })).scenario)
}));
