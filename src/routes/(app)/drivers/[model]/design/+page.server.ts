import { page } from '$lib/server/doors/http';
import { designOf } from '$lib/server/models/design';
import { selectionFrom } from '$lib/server/scenarios/selection';

export const load = ({ locals, url, params }) =>
	page({ locals }, async (context) => {
		const selection = await selectionFrom(context, url);
		return { design: await designOf(context, selection.scenario, params.model) };
	});
