import { z } from 'zod';
import { previewFeed } from '$lib/server/feeds/feed';
import { api } from '$lib/server/http';
import { FeedOptions } from '$lib/server/schemas';
import { upload } from '$lib/server/uploads';

const Request = z.strictObject({
	options: FeedOptions.nullable().default(null),
	map: z.record(z.string(), z.string().nullable()).default({})
});

export const POST = api(async ({ db, user, event }) => {
	const { name, text, request } = await upload(event, Request);
	const { content, encoding } = text;
	return { ...(await previewFeed(db, user, name, content, request.options, request.map)), encoding };
});
