import { page, query } from '$lib/server/http';
import { readModel } from '$lib/server/models';
import { ArrangementText } from '$lib/server/schemas';
import { selectionFrom } from '$lib/server/selection';

/** More than fit on a screen; the page asks for the figures of all others once these are shown. */
const FIRST_ROWS = 200;

export const load = ({ locals, url, params }) =>
	page({ locals }, async (db, user) => {
		const selection = await selectionFrom(db, user, url);
		const { empty, ...wanted } = query(url, ArrangementText);
		const { rows, ...model } = await readModel(db, user, {
			...selection,
			...wanted,
			model: params.model,
			hideEmpty: empty === 'hide',
			rowsWithCells: FIRST_ROWS
		});
		// Figures go as one text: hundreds of thousands of them are sent and read many times faster so.
		return { model, rows: JSON.stringify(rows), hideEmpty: empty === 'hide' };
	});
