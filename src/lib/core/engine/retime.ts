/** Carries a line's values to periods of another kind, by days. */
import type { Axis } from './axis';
import { BLANK, marksOf, NUMBER, type Matrix } from './values';

/** How the periods of two axes meet. */
export interface Meeting {
	/** For each target period the place of its first part, and after the last one that of the end. */
	starts: Int32Array;
	/** For each part the source period, and how many days of it lie in the target period. */
	source: Int32Array;
	days: Float64Array;
	/** Days of each source period. */
	length: Float64Array;
	/** For each source period the first target period that it is part of; as many as there are where none. */
	reaches: Int32Array;
}

/** Which periods of `target` those of `source` meet, and on how many actual days. */
export function meeting(source: Axis, target: Pick<Axis, 'firstDay' | 'lastDay' | 'length'>): Meeting {
	const starts = new Int32Array(target.length + 1);
	const [periods, days]: [number[], number[]] = [[], []];
	const reaches = new Int32Array(source.length).fill(target.length);
	let s = 0;
	for (let t = 0; t < target.length; t++) {
		starts[t] = periods.length;
		const [first, last] = [target.firstDay[t], target.lastDay[t]];
		while (s < source.length && source.lastDay[s] < first) s++;
		for (let k = s; k < source.length && source.firstDay[k] <= last; k++) {
			periods.push(k);
			days.push(Math.min(last, source.lastDay[k]) - Math.max(first, source.firstDay[k]) + 1);
			if (reaches[k] > t) reaches[k] = t;
		}
	}
	starts[target.length] = periods.length;
	return {
		starts,
		source: Int32Array.from(periods),
		days: Float64Array.from(days),
		length: Float64Array.from(
			{ length: source.length },
			(_, k) => source.lastDay[k] - source.firstDay[k] + 1
		),
		reaches
	};
}

/**
 * Fills the target's rows lo..hi and periods from..to (each excluded at the end). A source period that straddles two
 * is divided by days where the roll-up is `sum`; an `average` is weighted by days, and by `weight` where one is given;
 * `last` is what holds on the target period's last day. Blanks count for nothing; an error is taken over.
 */
export function retime(
	target: Matrix,
	source: Matrix,
	weight: Matrix | null,
	how: 'sum' | 'last' | 'average',
	{ starts, source: periods, days, length }: Meeting,
	lo: number,
	hi: number,
	from: number,
	to: number
): void {
	const { rows } = target;
	for (let t = from; t < to; t++)
		for (let r = lo; r < hi; r++) {
			const end = starts[t + 1];
			let sum = 0;
			let mass = 0;
			let parts = 0;
			let only = 0;
			let error = NUMBER;
			for (let k = how === 'last' ? Math.max(starts[t], end - 1) : starts[t]; k < end; k++) {
				const i = periods[k] * rows + r;
				const mark = source.marks ? source.marks[i] : NUMBER;
				if (mark > BLANK && error === NUMBER) error = mark;
				if (mark !== NUMBER) continue;
				const value = source.values[i];
				const share = days[k] / length[periods[k]];
				const part = how === 'sum' ? share : weight ? weight.values[i] * share : days[k];
				if (weight?.marks && weight.marks[i] > BLANK && error === NUMBER) error = weight.marks[i];
				if (how !== 'sum' && part === 0) continue;
				// A whole period keeps its very value.
				sum += how === 'sum' && days[k] === length[periods[k]] ? value : value * part;
				mass += part;
				only = value;
				parts++;
			}
			const o = t * rows + r;
			if (error !== NUMBER) {
				target.values[o] = NaN;
				marksOf(target)[o] = error;
				target.errors = true;
			} else if (!parts) {
				target.values[o] = 0;
				marksOf(target)[o] = BLANK;
			} else {
				target.values[o] = how === 'sum' ? sum : parts === 1 ? only : sum / mass;
				if (target.marks) target.marks[o] = NUMBER;
			}
		}
}
