/** Typed values over time: a first period and one value a period, NaN where blank. */
import type { Period } from '../calendar/calendar';

/** Typed values of a line in a row. */
export interface Series {
	block: string;
	line: string;
	row: string;
	first: number;
	/** NaN is blank. */
	values: Float64Array;
}

/** Cuts blanks off both ends; what is wholly blank keeps one cell. */
export function trimBlanks(first: Period, values: Float64Array): { first: Period; values: Float64Array } {
	let a = 0;
	let b = values.length;
	while (a < b - 1 && Number.isNaN(values[a])) a++;
	while (b > a + 1 && Number.isNaN(values[b - 1])) b--;
	return { first: first + a, values: values.slice(a, b) };
}
