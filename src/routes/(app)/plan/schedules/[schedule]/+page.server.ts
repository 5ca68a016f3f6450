import { page, query } from '$lib/server/doors/http';
import { ScheduleText } from '$lib/server/platform/schemas';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { readSchedule } from '$lib/server/schedules/schedules';

/** So many rows are sent with a page that is opened, always more than a screen shows; it asks for all others afterwards. */
const FIRST_ROWS = 200;

export const load = ({ locals, url, params, isDataRequest }) =>
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
		// Within the application all rows are there at once: the place to which a grid is scrolled stays.
		const part = !isDataRequest && rows.length > FIRST_ROWS;
		const sent = part ? rows.slice(0, FIRST_ROWS) : rows;
		const ids = new Set(sent.map((r) => r.id));
		return {
			view,
			// Figures go as one text: hundreds of thousands of them are sent and read many times faster so.
			rows: JSON.stringify(sent),
			list: JSON.stringify(part ? list.filter((r) => ids.has(r.id)) : list),
			rowsInAll: rows.length,
			wanted
		};
	});
