import { z } from 'zod';
import { savesOf } from '$lib/server/changes/history';
import { api, query } from '$lib/server/doors/http';

const Query = z.object({ before: z.iso.datetime().optional() });

export const GET = api(async ({ context, event }) => ({
	saves: await savesOf(context, event.params.code!, query(event.url, Query).before)
}));
