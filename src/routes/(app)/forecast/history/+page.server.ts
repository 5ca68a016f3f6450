import { savesOf } from '$lib/server/changes/history';
import { page } from '$lib/server/doors/http';
import { selectionFrom } from '$lib/server/scenarios/selection';

export const load = ({ locals, url }) =>
	page({ locals }, async (context) => {
		const { scenario } = await selectionFrom(context, url);
		return { saves: scenario ? await savesOf(context, scenario) : [] };
	});
