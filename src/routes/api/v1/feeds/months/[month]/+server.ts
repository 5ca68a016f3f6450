import { takeOutMonth } from '$lib/server/ledger/months';
import { api, check } from '$lib/server/doors/http';
import { Month } from '$lib/server/platform/schemas';

export const DELETE = api(async ({ db, user, event }) => ({
	entries: await takeOutMonth(db, user, check(event.params.month, Month))
}));
