import { api } from '$lib/server/doors/http';
import { removeProfile } from '$lib/server/accounts/profiles';

export const DELETE = api(async ({ db, user, event }) => {
	await removeProfile(db, user, event.params.code!);
});
