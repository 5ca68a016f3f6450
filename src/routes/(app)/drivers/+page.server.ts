import { page } from '$lib/server/doors/http';
import { dimensionNames } from '$lib/server/models/members';
import { listModels } from '$lib/server/models/models';
import { selectionFrom } from '$lib/server/scenarios/selection';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const s = await selectionFrom(db, user, url);
		return {
			list: s.scenario ? await listModels(db, user, s.scenario) : [],
			dimensions: await dimensionNames(db)
		};
	});
