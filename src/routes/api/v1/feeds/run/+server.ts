import { z } from 'zod';
import { runFeed } from '$lib/server/feeds/feed';
import { api } from '$lib/server/http';
import { FeedOptions } from '$lib/server/schemas';
import { upload } from '$lib/server/uploads';

const Request = z.strictObject({
	options: FeedOptions,
	month: z.int(),
	map: z.record(z.string(), z.string().nullable()).default({})
});

export const POST = api(async ({ db, user, event }) => {
	const { name, text, request } = await upload(event, Request);
	return runFeed(db, user, name, text.content, request.options, request.month, request.map);
});
