import { api } from '$lib/server/http';
import { removeProfile } from '$lib/server/profiles';

export const DELETE = api(async ({ db, user, event }) => {
	await removeProfile(db, user, event.params.code!);
});
