import { page } from '$lib/server/http';
import { selectionFrom } from '$lib/server/selection';
import { readTargets } from '$lib/server/targets';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const s = await selectionFrom(db, user, url);
		return { targets: s.scenario ? await readTargets(db, user, s.scenario, s.from, s.to) : null };
	});
