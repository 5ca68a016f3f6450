/** Typed values over time: a first period and one value a period, NaN where blank. */
import type { Period } from '../calendar/calendar';

/** Values one a period; NaN is blank. */
export interface Run {
	first: Period;
	values: Float64Array;
}

/** Typed values of a line in a row. */
export interface Series extends Run {
	block: string;
	line: string;
	row: string;
}

/** What is typed for a period; null where nothing is. */
export function valueAt(run: Run | null, period: Period): number | null {
	const value = run?.values[period - run.first];
	return value === undefined || Number.isNaN(value) ? null : value;
}

/**
 * A run with values typed into it, wherever they lie; null takes one away.
 * @returns null when nothing is left
 */
export function withValues(run: Run | null, typed: ReadonlyMap<Period, number | null>): Run | null {
	const periods = [...typed.keys(), ...(run ? [run.first, run.first + run.values.length - 1] : [])];
	if (!periods.length) return null;
	const first = Math.min(...periods);
	const values = new Float64Array(Math.max(...periods) - first + 1).fill(NaN);
	if (run) values.set(run.values, run.first - first);
	for (const [period, value] of typed) values[period - first] = value ?? NaN;
	return values.every(Number.isNaN) ? null : trimBlanks(first, values);
}

/** The part of a run up to a period; null when nothing is left. */
export const upTo = ({ first, values }: Run, last: Period): Run | null =>
	withValues({ first, values: values.slice(0, Math.max(0, last - first + 1)) }, new Map());

/** Cuts blanks off both ends; what is wholly blank keeps one cell. */
export function trimBlanks(first: Period, values: Float64Array): Run {
	let a = 0;
	let b = values.length;
	while (a < b - 1 && Number.isNaN(values[a])) a++;
	while (b > a + 1 && Number.isNaN(values[b - 1])) b--;
	return { first: first + a, values: values.slice(a, b) };
}
