import { openMonths } from '$lib/server/feeds/months';
import { api } from '$lib/server/http';

export const GET = api(async ({ db, user }) => ({ months: await openMonths(db, user) }));
