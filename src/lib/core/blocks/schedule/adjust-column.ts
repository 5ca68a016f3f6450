/** A column of a schedule under adjustments: what is done to it holds in all months, for it has none. */
import { fromIsoDate, toIsoDate } from '../../calendar/dates';
import { edate } from '../../functions/dates';
import { textCode } from '../../engine/texts';
import { BLANK, cellAt, copyOf, NUMBER, type Matrix } from '../../engine/values';
import type { LineSpec } from '../../engine/spec';
import type { AdjustmentStep, ScopedStep } from '../../inputs/adjust';
import type { AdjustmentStepDefinition } from '../../inputs/schema';
import type { AdjustableLine, AdjustedLine, Calculated, RowValueEdit } from '../block';
import { columnNumber } from './columns';
import { rowValue } from './row-changes';
import type { ColumnValue, ScheduleColumn, ScheduleRow } from './schema';

const HOLDS: Partial<Record<ScheduleColumn['kind'], NonNullable<AdjustableLine['column']>>> = {
	number: 'number',
	money: 'number',
	percent: 'number',
	date: 'date',
	pick: 'choice',
	'yes-no': 'choice'
};

/** As what a column can be adjusted; undefined for one that says where its row stands, is worked out, or is text. */
export const adjustableAs = ({ kind, formula }: ScheduleColumn): AdjustableLine['column'] =>
	formula === undefined ? HOLDS[kind] : undefined;

/** What a choice can be set to. */
export const choicesOf = ({ kind, choices }: ScheduleColumn): AdjustableLine['choices'] =>
	kind === 'yes-no'
		? [
				{ value: true, name: 'Yes' },
				{ value: false, name: 'No' }
			]
		: choices?.map((value) => ({ value, name: value }));

/** Why a column cannot be changed so, as a clause; null where it can. */
export function columnStepFault(column: ScheduleColumn, step?: AdjustmentStepDefinition): string | null {
	const { label, kind, choices } = column;
	const holds = adjustableAs(column);
	if (!holds)
		return column.formula !== undefined
			? `“${label}” is worked out; adjust what it is worked out from`
			: kind === 'text'
				? `“${label}” is a text and takes no part in what is calculated`
				: `“${label}” says where a row stands; change it in the rows`;
	if (!step) return null;
	if (step.from !== undefined || step.to !== undefined)
		return `“${label}” is the same in all months, so it cannot be changed from or to one`;
	switch (step.operation) {
		case 'set': {
			const { value } = step;
			if (holds === 'number') return typeof value === 'number' ? null : `“${value}” is no number`;
			if (kind === 'date')
				return typeof value === 'string' && fromIsoDate(value) !== null
					? null
					: `“${value}” is no date such as 2027-01-31`;
			if (kind === 'yes-no')
				return typeof value === 'boolean' ? null : `“${value}” is neither yes nor no (true or false)`;
			return typeof value === 'string' && choices?.includes(value)
				? null
				: `“${value}” is none of ${choices?.join(', ')}`;
		}
		case 'multiply':
			return holds === 'number' ? null : `“${label}” holds no numbers to be multiplied`;
		case 'add':
			if (holds === 'choice') return `“${label}” holds choices; it can be set`;
			return holds === 'date' && !Number.isInteger(step.value)
				? `“${label}” holds dates, which are moved by whole days`
				: null;
		case 'shift':
			return holds === 'date' ? null : `“${label}” holds no dates to be moved`;
	}
}

/** @param line as it is compiled, with the column's values */
export function adjustedColumn(column: ScheduleColumn, line: LineSpec): AdjustedLine {
	const original = copyOf(line.seed!);
	return {
		lines: [line],
		inputs: [line.code],
		original,
		under: (steps) => {
			const inputs = copyOf(original);
			for (const { step, rows } of steps) adjust(inputs, rows, column, step);
			return [inputs];
		}
	};
}

/** Only setting puts something where nothing is: there is nothing to be moved or raised. */
function adjust(
	matrix: Matrix,
	rows: ScopedStep['rows'],
	{ kind }: ScheduleColumn,
	step: AdjustmentStep
): void {
	for (let r = 0; r < matrix.rows; r++) {
		if (!rows[r]) continue;
		if (step.operation === 'set') {
			const value = columnNumber(kind, step.value);
			if (value === null) continue;
			matrix.values[r] = value;
			if (matrix.marks) matrix.marks[r] = NUMBER;
		} else if (matrix.marks?.[r] !== BLANK) matrix.values[r] = moved(matrix.values[r], kind, step);
	}
}
function moved(
	value: number,
	kind: ScheduleColumn['kind'],
	step: Exclude<AdjustmentStep, { operation: 'set' }>
): number {
	switch (step.operation) {
		case 'shift':
			return edate(value, step.periods);
		case 'add':
			return kind === 'date' ? value + step.value : typed(value + step.value);
		case 'multiply':
			return typed(value * step.value);
	}
}
/** As somebody would type it: what is adopted later is the same figure. */
const typed = (value: number): number => Number(value.toPrecision(15));

/** What stands in rows with some adjustments and not without them. @param rows those of the schedule, in its order */
export function adoptingColumn(
	without: Calculated,
	with_: Calculated,
	block: string,
	column: ScheduleColumn,
	rows: readonly ScheduleRow[]
): RowValueEdit[] {
	const [before, after] = [without, with_].map((p) => p.calculation.matrix(block, column.code));
	return rows.flatMap((row, r) => {
		const value = cellAt(after, r, 0);
		if (cellAt(before, r, 0) === value || typeof value !== 'number') return [];
		return [
			{
				block,
				row: row.id,
				column: column.code,
				before: rowValue(row, column.code),
				value: valueFrom(column, value)
			}
		];
	});
}

/** What a number of the calculation is in a column. */
export function valueFrom({ kind, choices }: ScheduleColumn, value: number): ColumnValue {
	switch (kind) {
		case 'date':
			return toIsoDate(value);
		case 'yes-no':
			return value !== 0;
		case 'pick':
			return choices?.find((c) => textCode(c) === value) ?? '';
		default:
			return value;
	}
}
