import { page } from '$lib/server/http';
import { selectionFrom } from '$lib/server/selection';
import { readWhatIf } from '$lib/server/what-if';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const { scenario } = await selectionFrom(db, user, url);
		return { whatIf: scenario ? await readWhatIf(db, user, scenario) : null };
	});
