import { inCompanyWriting } from '$lib/server/doors/writing';
import { FEED_PERIODS } from '$lib/core/views/written';
import { z } from 'zod';
import { companyFor } from '$lib/server/company/structure';
import { runFeed } from '$lib/server/ledger/feed';
import { api } from '$lib/server/doors/http';
import { FeedOptions, inCalendar, LedgerMap, Period } from '$lib/server/platform/schemas';
import { upload } from '$lib/server/doors/uploads';

const Request = inCalendar((calendar) =>
	z.strictObject({ options: FeedOptions, month: Period(calendar), map: LedgerMap.default({}) })
);

export const POST = api(async (call) => {
	await companyFor(call.context, 'run feeds');
	const { name, text, request } = await upload(call, Request);
	const done = await runFeed(call.context, name, text.content, request.options, request.month, request.map);
	return inCompanyWriting(call.context.db, done, FEED_PERIODS);
});
