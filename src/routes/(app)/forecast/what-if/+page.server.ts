import { page } from '$lib/server/doors/http';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { readWhatIf } from '$lib/server/scenarios/what-if';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const { scenario } = await selectionFrom(db, user, url);
		return { whatIf: scenario ? await readWhatIf(db, user, scenario) : null };
	});
