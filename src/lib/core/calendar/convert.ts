/** Carries values from one calendar to another, by days. */
import type { Calendar, Period } from './calendar';
import { fromIsoDate } from './dates';

export interface Overlap {
	from: Period;
	to: Period;
	/** Days that the two periods share. */
	days: number;
}

const span = (calendar: Calendar, p: Period): [number, number] => [
	fromIsoDate(calendar.firstDay(p))!,
	fromIsoDate(calendar.lastDay(p))!
];

/** Which periods of `target` each period first..last of `source` touches, and by how many actual days. */
export function overlaps(source: Calendar, first: Period, last: Period, target: Calendar): Overlap[] {
	const found: Overlap[] = [];
	for (let from = first; from <= last; from++) {
		const [a, b] = span(source, from);
		for (let to = target.periodOfDay(a); to <= target.periodOfDay(b); to++) {
			const [c, d] = span(target, to);
			found.push({ from, to, days: Math.min(b, d) - Math.max(a, c) + 1 });
		}
	}
	return found;
}

/**
 * Values on another calendar. A period that straddles two is divided by days where the roll-up is `sum`; an
 * `average` is weighted by days; `last` takes the value in force on the target's last day.
 * @param values one per source period from `first` on; null is blank
 * @returns the target's first period touched, and a value for each from there on; null where no source value lies
 */
export function convertPeriods(
	source: Calendar,
	first: Period,
	values: readonly (number | null)[],
	target: Calendar,
	rollup: 'sum' | 'average' | 'last'
): { first: Period; values: (number | null)[] } {
	const last = first + values.length - 1;
	if (!values.length) return { first: target.periodOfDay(span(source, first)[0]), values: [] };
	const [start, end] = [span(source, first)[0], span(source, last)[1]];
	const begin = target.periodOfDay(start);
	const out: (number | null)[] = Array<null>(target.periodOfDay(end) - begin + 1).fill(null);
	if (rollup === 'last') {
		for (let i = 0; i < out.length; i++) {
			const day = Math.min(end, span(target, begin + i)[1]);
			out[i] = values[source.periodOfDay(day) - first];
		}
		return { first: begin, values: out };
	}
	const weight = Array<number>(out.length).fill(0);
	for (const { from, to, days } of overlaps(source, first, last, target)) {
		const value = values[from - first];
		if (value === null) continue;
		const [a, b] = span(source, from);
		const i = to - begin;
		out[i] = (out[i] ?? 0) + (rollup === 'sum' ? (value * days) / (b - a + 1) : value * days);
		weight[i] += days;
	}
	return {
		first: begin,
		values: rollup === 'sum' ? out : out.map((v, i) => (v === null ? null : v / weight[i]))
	};
}
