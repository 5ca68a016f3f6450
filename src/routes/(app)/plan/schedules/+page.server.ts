import { page } from '$lib/server/doors/http';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { accountsToPost, listSchedules } from '$lib/server/schedules/schedules';

export const load = ({ locals, url }) =>
	page({ locals }, async (context) => {
		const { scenario } = await selectionFrom(context, url);
		return {
			list: scenario ? await listSchedules(context, scenario) : [],
			posted: await accountsToPost(context)
		};
	});
