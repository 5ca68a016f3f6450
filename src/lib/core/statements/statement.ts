/** Account totals over time. */
import { NUMBER, BLANK, toCell, type Cell } from '../engine/values';
import type { AccountSeries } from './totals';

/** A span of periods (ordinals, both included) as one figure, by the account's roll-up over time. */
export function overTime(series: AccountSeries, from: number, to: number): Cell {
	const { first, periods, start, values, marks, errors } = series;
	const { rollup } = series.account;
	const begin = start + Math.max(0, from - first);
	const end = start + Math.min(periods - 1, to - first);
	let total = 0;
	if (rollup === 'sum' && !errors) {
		let mark = BLANK;
		for (let i = begin; i <= end; i++) {
			total += values[i];
			mark &= marks[i];
		}
		return mark === BLANK ? null : total;
	}
	let count = 0;
	let last = -1;
	for (let i = begin; i <= end; i++) {
		const mark = marks[i];
		if (mark === BLANK) continue;
		if (mark !== NUMBER) return toCell(NaN, mark);
		total += values[i];
		last = i;
		count++;
	}
	if (count === 0) return null;
	return rollup === 'last' ? values[last] : rollup === 'average' ? total / count : total;
}

/** The values period by period, for display. Ordinals, both included. */
export function cellsOf(
	{ first, periods, start, values, marks }: AccountSeries,
	from: number,
	to: number
): Cell[] {
	return Array.from({ length: to - from + 1 }, (_, i) => {
		const t = from + i - first;
		return t < 0 || t >= periods ? null : toCell(values[start + t], marks[start + t]);
	});
}
