import { page } from '$lib/server/doors/http';
import { designOf } from '$lib/server/models/design';
import { selectionFrom } from '$lib/server/scenarios/selection';

export const load = ({ locals, url, params }) =>
	page({ locals }, async (db, user) => {
		const selection = await selectionFrom(db, user, url);
		return { design: await designOf(db, user, selection.scenario, params.model) };
	});
