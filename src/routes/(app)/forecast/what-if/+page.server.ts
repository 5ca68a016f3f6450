import { page } from '$lib/server/doors/http';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { readWhatIf } from '$lib/server/scenarios/what-if';

export const load = ({ locals, url }) =>
	page({ locals, module: 'what-ifs' }, async (context) => {
		const selection = await selectionFrom(context, url);
		return { whatIf: selection.scenario ? await readWhatIf(context, selection) : null };
	});
