/** The marks of the rows that are drawn, each a value of its own: a key is heard of by the rows it concerns alone. */
import { untrack } from 'svelte';
import { UNMARKED, marksIn, sameMarks, type GridMarks, type RowMarks } from './marks';

/** What marks are read from; asked anew whenever it changes. */
export interface MarkSource {
	/** The row of each drawn place. */
	readonly rows: readonly number[];
	readonly marks: GridMarks;
}

class Marked {
	now = $state.raw<RowMarks>(UNMARKED);
}

/** To be made while a component is. @returns the marks of a place's row */
export function markedRows(source: MarkSource): (at: number) => RowMarks {
	const places: Marked[] = [];
	const place = (at: number) => (places[at] ??= untrack(() => new Marked()));
	const settle = () => {
		const { rows, marks } = source;
		rows.forEach((r, at) => {
			const marked = place(at);
			const next = marksIn(r, marks);
			if (
				!sameMarks(
					untrack(() => marked.now),
					next
				)
			)
				marked.now = next;
		});
	};
	// Where the page is made on the server there are no effects.
	untrack(settle);
	// Before what is drawn looks at them.
	$effect.pre(settle);
	return (at) => place(at).now;
}
