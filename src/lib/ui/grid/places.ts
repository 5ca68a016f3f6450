/** Which rows the drawn places of a grid show, and which columns the drawn places of a row. */

/**
 * Rows or columns from `first` on in `places` places. Each keeps its place as long as it is in sight, so that scrolling
 * a little fills a few places anew and leaves all others alone; places lie in no order on the screen.
 * @returns which one each place shows; fewer than there are places when there are fewer of them
 */
export function inPlaces(first: number, places: number, count: number): number[] {
	const start = Math.max(0, Math.min(first, count - places));
	const shown = Math.min(places, count - start);
	return Array.from({ length: shown }, (_, place) =>
		shown < places ? start + place : start + ((((place - start) % places) + places) % places)
	);
}
