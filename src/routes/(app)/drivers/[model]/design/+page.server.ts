import { page } from '$lib/server/http';
import { designOf } from '$lib/server/model-design';
import { selectionFrom } from '$lib/server/selection';

export const load = ({ locals, url, params }) =>
	page({ locals }, async (db, user) => {
		const selection = await selectionFrom(db, user, url);
		return { design: await designOf(db, user, selection.scenario, params.model) };
	});
