import { inCompanyWriting } from '$lib/server/doors/writing';
import { FEED_PERIODS } from '$lib/core/views/written';
import { listRuns } from '$lib/server/ledger/feed';
import { api } from '$lib/server/doors/http';

export const GET = api(async ({ context }) => ({
	runs: await inCompanyWriting(context.db, await listRuns(context), FEED_PERIODS)
}));
