import { takeOutMonth } from '$lib/server/feeds/months';
import { api, check } from '$lib/server/http';
import { Month } from '$lib/server/schemas';

export const DELETE = api(async ({ db, user, event }) => ({
	entries: await takeOutMonth(db, user, check(event.params.month, Month))
}));
