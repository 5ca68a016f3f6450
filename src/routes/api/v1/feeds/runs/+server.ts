import { listRuns } from '$lib/server/feeds/feed';
import { api } from '$lib/server/http';

export const GET = api(async ({ db, user }) => ({ runs: await listRuns(db, user) }));
