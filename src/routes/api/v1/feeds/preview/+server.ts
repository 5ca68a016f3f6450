import { inCompanyWriting } from '$lib/server/doors/writing';
import { FEED_PERIODS } from '$lib/core/views/written';
import { z } from 'zod';
import { companyFor } from '$lib/server/company/structure';
import { previewFeed } from '$lib/server/ledger/feed';
import { api } from '$lib/server/doors/http';
import { FeedOptions, LedgerMap } from '$lib/server/platform/schemas';
import { upload } from '$lib/server/doors/uploads';

const Request = z.strictObject({
	options: FeedOptions.nullable().default(null),
	map: LedgerMap.default({})
});

export const POST = api(async (call) => {
	await companyFor(call.context, 'run feeds');
	const { name, text, request } = await upload(call, Request);
	const { content, said } = text;
	const found = await previewFeed(call.context, name, content, request.options, request.map);
	return { ...(await inCompanyWriting(call.context.db, found, FEED_PERIODS)), said };
});
