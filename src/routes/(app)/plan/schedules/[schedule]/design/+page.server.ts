import { page } from '$lib/server/doors/http';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { scheduleDesign } from '$lib/server/schedules/design';

export const load = ({ locals, url, params }) =>
	page({ locals }, async (context) => {
		const { scenario } = await selectionFrom(context, url);
		return { design: await scheduleDesign(context, scenario, params.schedule) };
	});
