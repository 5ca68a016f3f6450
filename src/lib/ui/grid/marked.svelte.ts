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
	/** Grown as a whole: who looks at a place that is not there yet hears when it is. */
	let places = $state.raw<readonly Marked[]>([]);
	const settle = () => {
		const { rows, marks } = source;
		const own = untrack(() => places);
		const next = rows.map((r) => marksIn(r, marks));
		if (next.length > own.length)
			places = [...own, ...Array.from({ length: next.length - own.length }, () => new Marked())];
		untrack(() =>
			next.forEach((marked, at) => {
				if (!sameMarks(places[at].now, marked)) places[at].now = marked;
			})
		);
	};
	// Where the page is made on the server there are no effects.
	untrack(settle);
	// Before what is drawn looks at them.
	$effect.pre(settle);
	return (at) => places[at]?.now ?? UNMARKED;
}
