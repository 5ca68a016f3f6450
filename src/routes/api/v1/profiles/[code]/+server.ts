import { api } from '$lib/server/doors/http';
import { removeProfile } from '$lib/server/accounts/profiles';

export const DELETE = api(async ({ context, event }) => {
	await removeProfile(context, event.params.code!);
});
