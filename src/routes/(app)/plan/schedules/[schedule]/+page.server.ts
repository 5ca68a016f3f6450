import { page, query } from '$lib/server/doors/http';
import { ScheduleText } from '$lib/server/platform/schemas';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { readSchedule } from '$lib/server/schedules/schedules';

export const load = ({ locals, url, params }) =>
	page({ locals }, async (context) => {
		const { scenario, department, from, to } = await selectionFrom(context, url);
		const wanted = query(url, ScheduleText);
		const { rows, list, ...view } = await readSchedule(context, {
			...wanted,
			scenario,
			department,
			from,
			to,
			schedule: params.schedule
		});
		// Figures go as one text: hundreds of thousands of them are sent and read many times faster so.
		return { view, rows: JSON.stringify(rows), list: JSON.stringify(list), wanted };
	});
