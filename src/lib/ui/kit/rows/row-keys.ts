/** Keys among the rows of a list whose rows have buttons: one row can be reached by Tab, the arrows lead to the others. */

/** So many rows Page Up and Page Down lead on. */
export const PAGE = 15;

/** Where a key leads: to another row, or to another button of the row; null where it is none of these. */
export function rowStep(
	key: string,
	at: { row: number; button: number },
	rows: number,
	buttons: number
): { row: number; button: number } | null {
	const to = (row: number) => ({ row: Math.min(rows - 1, Math.max(0, row)), button: at.button });
	switch (key) {
		case 'ArrowDown':
			return to(at.row + 1);
		case 'ArrowUp':
			return to(at.row - 1);
		case 'PageDown':
			return to(at.row + PAGE);
		case 'PageUp':
			return to(at.row - PAGE);
		case 'Home':
			return to(0);
		case 'End':
			return to(rows - 1);
		case 'ArrowRight':
			return { row: at.row, button: Math.min(buttons - 1, at.button + 1) };
		case 'ArrowLeft':
			return { row: at.row, button: Math.max(0, at.button - 1) };
	}
	return null;
}
