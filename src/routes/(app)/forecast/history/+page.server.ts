import { savesOf } from '$lib/server/history';
import { page } from '$lib/server/http';
import { selectionFrom } from '$lib/server/selection';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const { scenario } = await selectionFrom(db, user, url);
		return { saves: scenario ? await savesOf(db, user, scenario) : [] };
	});
