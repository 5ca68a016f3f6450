import { page, query } from '$lib/server/doors/http';
import { readModel } from '$lib/server/models/models';
import { openedIn } from '$lib/server/models/opened-rows';
import { ArrangementText } from '$lib/server/platform/schemas';
import { selectionFrom } from '$lib/server/scenarios/selection';

/** So many rows are sent with a page that is opened, always more than a screen shows; it asks for all others afterwards. */
const FIRST_ROWS = 200;
/** Within the application, so many figures at once. */
const FIRST_FIGURES = 12_000;

export const load = ({ locals, url, params, isDataRequest }) =>
	page({ locals }, async (context) => {
		const selection = await selectionFrom(context, url);
		const { empty, ...wanted } = query(url, ArrangementText);
		const inside = Math.floor(FIRST_FIGURES / (selection.to - selection.from + 1));
		const first = isDataRequest ? Math.max(FIRST_ROWS, inside) : FIRST_ROWS;
		const { rows, ...model } = await readModel(context, {
			...selection,
			...wanted,
			open: await openedIn(context.db, wanted.open),
			model: params.model,
			hideEmpty: empty === 'hide',
			rowsWithCells: first
		});
		// There all rows are named: the place to which a grid is scrolled stays.
		const part = !isDataRequest && rows.length > first;
		const sent = part ? rows.slice(0, first) : rows;
		const dimensions = part ? model.dimensions.map((d) => ({ ...d, members: [] })) : model.dimensions;
		return {
			model: { ...model, dimensions },
			// Figures go as one text: hundreds of thousands of them are sent and read many times faster so.
			rows: JSON.stringify(sent),
			rowsInAll: rows.length,
			hideEmpty: empty === 'hide'
		};
	});
