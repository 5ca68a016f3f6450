import { page, query } from '$lib/server/http';
import { readModel } from '$lib/server/models';
import { ArrangementText } from '$lib/server/schemas';
import { selectionFrom } from '$lib/server/selection';

/** So many figures are sent with the page, and always more rows than a screen shows; it asks for all others afterwards. */
const FIRST_FIGURES = 60_000;
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
			rowsWithCells: Math.max(FIRST_ROWS, FIRST_FIGURES / (selection.to - selection.from + 1))
		});
		// Figures go as one text: hundreds of thousands of them are sent and read many times faster so.
		return { model, rows: JSON.stringify(rows), hideEmpty: empty === 'hide' };
	});
