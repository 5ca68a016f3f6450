/** Periods that are rolled up side by side: months, quarters and a whole window overlap, and go in turns. */
import type { Span } from '../calendar/spans';

export interface Pass {
	/** Places of the spans that it rolls up, none of which overlaps another. */
	list: number[];
	/** For each period index the place in `list`, −1 for none. */
	periods: Int32Array;
}

/** @param axis which periods there are; what lies outside is left out */
export function passesOf(axis: { first: number; length: number }, spans: readonly Span[]): Pass[] {
	return apart(spans).map((list) => {
		const periods = new Int32Array(axis.length).fill(-1);
		list.forEach((s, bucket) => {
			const from = Math.max(0, spans[s].from - axis.first);
			const to = Math.min(axis.length - 1, spans[s].to - axis.first);
			for (let t = from; t <= to; t++) periods[t] = bucket;
		});
		return { list, periods };
	});
}

/** Spans in lists within which none overlaps another. */
function apart(spans: readonly Span[]): number[][] {
	const lists: number[][] = [];
	spans.forEach((span, s) => {
		const free = lists.find((list) => list.every((o) => spans[o].to < span.from || spans[o].from > span.to));
		if (free) free.push(s);
		else lists.push([s]);
	});
	return lists;
}
