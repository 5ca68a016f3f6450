import { openMonths } from '$lib/server/ledger/months';
import { api } from '$lib/server/doors/http';

export const GET = api(async ({ db, user }) => ({ months: await openMonths(db, user) }));
