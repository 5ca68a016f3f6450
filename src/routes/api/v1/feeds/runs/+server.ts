import { listRuns } from '$lib/server/ledger/feed';
import { api } from '$lib/server/doors/http';

export const GET = api(async ({ db, user }) => ({ runs: await listRuns(db, user) }));
