import { page } from '$lib/server/doors/http';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { readTargets } from '$lib/server/accounts/targets';

export const load = ({ locals, url }) =>
	page({ locals }, async (db, user) => {
		const s = await selectionFrom(db, user, url);
		return { targets: s.scenario ? await readTargets(db, user, s.scenario, s.from, s.to) : null };
	});
