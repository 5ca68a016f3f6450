/** Adjustments: named, switchable operations on top of a scenario's inputs, applied in their order before formulas. */
import type { Calendar } from '../calendar/calendar';
import { periodNamed } from '../calendar/onto';
import type { AdjustmentDefinition } from './schema';
import { BLANK, marksOf, NUMBER, type Matrix } from '../engine/values';

export type AdjustmentStep = {
	/** Lines of models, or accounts in the block of planned accounts. */
	lines: readonly { block: string; line: string }[];
	/** Only rows under these members (dimension → member), or with these values (column of a schedule → value). */
	where: Readonly<Record<string, string>>;
	/** First and last period (ordinals); from the plan's first open one, to its end. */
	from?: number;
	to?: number;
} &
	/** Of a date, `add` is in days. */
	(
		| { operation: 'multiply' | 'add'; value: number }
		/** What is no number is what a column holds: a date (ISO 8601), a choice, yes or no. */
		| { operation: 'set'; value: number | string | boolean }
		/**
		 * So many periods later; earlier when negative. What is shifted out of the periods named is gone. A date is moved by
		 * calendar months.
		 */
		| { operation: 'shift'; periods: number }
	);

/** A step with the rows and period indexes (end excluded) that it reaches. */
export interface ScopedStep {
	step: AdjustmentStep;
	rows: readonly boolean[];
	from: number;
	to: number;
}

export interface Adjustment {
	code: string;
	name: string;
	on: boolean;
	steps: readonly AdjustmentStep[];
	/** How many of the others stand before one that is in the figures and is not told of. */
	untold?: number;
}

/**
 * Adjustments as they are stored, for calculation; those that were adopted do nothing any more.
 * @throws RangeError for a month that is none
 */
export function adjustmentsFrom(
	definitions: readonly AdjustmentDefinition[],
	calendar: Calendar
): Adjustment[] {
	const period = (key: string | undefined) => {
		if (key === undefined) return undefined;
		const p = periodNamed(calendar, key);
		if (p === null) throw new RangeError(`“${key}” is no period of the calendar.`);
		return p;
	};
	return definitions
		.filter((d) => d.adopted === null)
		.map(({ code, name, on, steps }) => ({
			code,
			name,
			on,
			steps: steps.map((s) => ({ ...s, from: period(s.from), to: period(s.to) }))
		}));
}

/**
 * Carries out one step on one line's inputs, in place.
 * @param rows for each row whether it is in the scope
 * @param from,to period indexes, to excluded
 */
export function adjustInputs(
	matrix: Matrix,
	rows: readonly boolean[],
	from: number,
	to: number,
	step: AdjustmentStep
): void {
	const [first, end] = [Math.max(0, from), Math.min(matrix.periods, to)];
	if (step.operation === 'shift') return shift(matrix, rows, first, end, step.periods);
	for (let t = first; t < end; t++)
		for (let r = 0; r < matrix.rows; r++) {
			if (!rows[r]) continue;
			const i = t * matrix.rows + r;
			const blank = matrix.marks?.[i] === BLANK;
			// A blank has nothing to be multiplied; adding and setting make it a number.
			if (blank && step.operation === 'multiply') continue;
			if (step.operation === 'multiply') matrix.values[i] *= step.value;
			else if (step.operation === 'add') matrix.values[i] += step.value;
			else matrix.values[i] = Number(step.value);
			if (matrix.marks) matrix.marks[i] = NUMBER;
		}
}

function shift(matrix: Matrix, rows: readonly boolean[], from: number, to: number, by: number): void {
	const before = { values: matrix.values.slice(), marks: matrix.marks?.slice() ?? null };
	const marks = marksOf(matrix);
	for (let t = from; t < to; t++)
		for (let r = 0; r < matrix.rows; r++) {
			if (!rows[r]) continue;
			const source = t - by;
			const i = t * matrix.rows + r;
			if (source < from || source >= to) {
				matrix.values[i] = 0;
				marks[i] = BLANK;
				continue;
			}
			const s = source * matrix.rows + r;
			matrix.values[i] = before.values[s];
			marks[i] = before.marks ? before.marks[s] : NUMBER;
		}
}
