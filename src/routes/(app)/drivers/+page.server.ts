import { page } from '$lib/server/doors/http';
import { dimensionNames } from '$lib/server/models/members';
import { listModels } from '$lib/server/models/models';
import { selectionFrom } from '$lib/server/scenarios/selection';

export const load = ({ locals, url }) =>
	page({ locals }, async (context) => {
		const s = await selectionFrom(context, url);
		return {
			list: s.scenario ? await listModels(context, s.scenario) : [],
			dimensions: await dimensionNames(context.db)
		};
	});
