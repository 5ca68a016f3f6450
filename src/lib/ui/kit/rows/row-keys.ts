/** Keys among the rows of a list: one row can be reached by Tab, the arrows lead to the others. */

const PAGE = 15;

/** The row that arrow keys, Page Up and Down, Home and End lead to; null for a key that is none of these. */
export function rowAfter(key: string, row: number, rows: number): number | null {
	const to = {
		ArrowDown: row + 1,
		ArrowUp: row - 1,
		PageDown: row + PAGE,
		PageUp: row - PAGE,
		Home: 0,
		End: rows - 1
	}[key];
	return to === undefined ? null : Math.max(0, Math.min(rows - 1, to));
}

/** The same where rows have buttons: to another row, or to another button of the row. */
export function rowStep(
	key: string,
	at: { row: number; button: number },
	rows: number,
	buttons: number
): { row: number; button: number } | null {
	const row = rowAfter(key, at.row, rows);
	if (row !== null) return { row, button: at.button };
	switch (key) {
		case 'ArrowRight':
			return { row: at.row, button: Math.min(buttons - 1, at.button + 1) };
		case 'ArrowLeft':
			return { row: at.row, button: Math.max(0, at.button - 1) };
	}
	return null;
}
