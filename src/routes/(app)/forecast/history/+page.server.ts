import { savesOf } from '$lib/server/changes/history';
import { page } from '$lib/server/doors/http';
import { selectionFrom } from '$lib/server/scenarios/selection';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const { scenario } = await selectionFrom(db, user, url);
		return { saves: scenario ? await savesOf(db, user, scenario) : [] };
	});
