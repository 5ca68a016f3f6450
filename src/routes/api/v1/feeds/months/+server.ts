import { inCompanyWriting } from '$lib/server/doors/writing';
import { FEED_PERIODS } from '$lib/core/views/written';
import { openMonths } from '$lib/server/ledger/months';
import { api } from '$lib/server/doors/http';

export const GET = api(async ({ context }) => ({
	months: await inCompanyWriting(context.db, await openMonths(context), FEED_PERIODS)
}));
