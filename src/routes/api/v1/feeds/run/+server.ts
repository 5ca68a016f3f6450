import { inCompanyWriting } from '$lib/server/doors/writing';
import { FEED_PERIODS } from '$lib/core/views/written';
import { z } from 'zod';
import { runFeed } from '$lib/server/ledger/feed';
import { api, mustMayAt } from '$lib/server/doors/http';
import { FeedOptions, inCalendar, LedgerMap, Period } from '$lib/server/platform/schemas';
import { upload } from '$lib/server/doors/uploads';

const Request = inCalendar((calendar) =>
	z.strictObject({ options: FeedOptions, month: Period(calendar), map: LedgerMap.default({}) })
);

export const POST = api(async (call) => {
	await mustMayAt(call, 'run feeds');
	const { name, text, request } = await upload(call, Request);
	const done = await runFeed(
		call.db,
		call.user,
		name,
		text.content,
		request.options,
		request.month,
		request.map
	);
	return inCompanyWriting(call.db, done, FEED_PERIODS);
});
