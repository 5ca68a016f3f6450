import { inCompanyWriting } from '$lib/server/doors/writing';
import { FEED_PERIODS } from '$lib/core/views/written';
import { z } from 'zod';
import { previewFeed } from '$lib/server/ledger/feed';
import { api, mustMayAt } from '$lib/server/doors/http';
import { FeedOptions, LedgerMap } from '$lib/server/platform/schemas';
import { upload } from '$lib/server/doors/uploads';

const Request = z.strictObject({
	options: FeedOptions.nullable().default(null),
	map: LedgerMap.default({})
});

export const POST = api(async (call) => {
	await mustMayAt(call, 'run feeds');
	const { name, text, request } = await upload(call, Request);
	const { content, encoding } = text;
	const found = await previewFeed(call.db, call.user, name, content, request.options, request.map);
	return { ...(await inCompanyWriting(call.db, found, FEED_PERIODS)), encoding };
});
