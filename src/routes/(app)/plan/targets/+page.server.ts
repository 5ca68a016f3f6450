import { page } from '$lib/server/doors/http';
import { askedMoney, selectionFrom } from '$lib/server/scenarios/selection';
import { readTargets } from '$lib/server/accounts/targets';

export const load = ({ locals, url }) =>
	page({ locals, module: 'targets' }, async (context) => {
		const s = await selectionFrom(context, url);
		return {
			targets: s.scenario ? await readTargets(context, s.scenario, s.from, s.to, askedMoney(url)) : null
		};
	});
