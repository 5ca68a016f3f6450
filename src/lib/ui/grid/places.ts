/** Which rows the drawn places of a grid show. */

/**
 * Rows from `first` on in `places` places. A row keeps its place as long as it is in sight, so that scrolling by a few
 * rows fills a few places anew and leaves all others alone; places lie in no order on the screen.
 * @returns the row of each place; fewer than there are places when there are fewer rows
 */
export function rowsInPlaces(first: number, places: number, count: number): number[] {
	const start = Math.max(0, Math.min(first, count - places));
	const shown = Math.min(places, count - start);
	return Array.from({ length: shown }, (_, place) =>
		shown < places ? start + place : start + ((((place - start) % places) + places) % places)
	);
}
