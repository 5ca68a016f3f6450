/**
 * How numbers, blanks and errors lie in memory.
 * A cell is a double and, where needed, a mark. A blank holds 0, so that arithmetic reads it as 0 without
 * looking; an error holds NaN, so that it flows through arithmetic by itself. The mark tells which it is.
 */
export const NUMBER = 0;
export const BLANK = 1;
export const DIV0 = 2;
export const REF = 3;
export const VALUE = 4;
export const NUM = 5;
export const CYCLE = 6;
/** An exchange rate is missing. */
export const RATE = 7;
/** Amounts in different currencies, which have no sum in any of them. */
export const MIXED = 8;

export const ERROR_TEXT: Record<number, string> = {
	[DIV0]: '#DIV/0!',
	[REF]: '#REF!',
	[VALUE]: '#VALUE!',
	[NUM]: '#NUM!',
	[CYCLE]: '#CYCLE!',
	[RATE]: '#RATE!',
	[MIXED]: '#MIXED!'
};

/** Whether a cell is an error that has to be mended: amounts that have no sum are none. */
export const isFault = (cell: Cell): boolean => typeof cell === 'string' && cell !== ERROR_TEXT[MIXED];

/** One cell for people: a number, null when blank, or an error's text. */
export type Cell = number | null | string;

export function toCell(value: number, mark: number): Cell {
	if (mark === BLANK) return null;
	if (mark !== NUMBER) return ERROR_TEXT[mark];
	return Number.isFinite(value) ? value : ERROR_TEXT[NUM];
}

/**
 * Values of a line: rows × periods, one period after another (index = period × rows + row), so that a look
 * n periods back is a shift by n × rows and a period is one run of memory.
 */
export interface Matrix {
	rows: number;
	periods: number;
	values: Float64Array;
	/** Null while every cell is a number. */
	marks: Uint8Array | null;
	/** Whether some mark may be an error. */
	errors: boolean;
	/** One value per row for all periods (`periods` is then 1): a column of a schedule, a member's attribute. */
	timeless?: boolean;
}

export function newMatrix(rows: number, periods: number): Matrix {
	return { rows, periods, values: new Float64Array(rows * periods), marks: null, errors: false };
}

/** A matrix whose memory is yet to be given. */
export function unplacedMatrix(rows: number, periods: number): Matrix {
	return { rows, periods, values: NOWHERE, marks: null, errors: false };
}
const NOWHERE = new Float64Array(0);

/** A column: one value per row, null where there is none. */
export function newColumn(values: readonly (number | null)[]): Matrix {
	const matrix: Matrix = { ...newMatrix(values.length, 1), timeless: true };
	values.forEach((value, row) => setCell(matrix, row, 0, value));
	return matrix;
}

export function cellAt(matrix: Matrix, row: number, period: number): Cell {
	const i = (matrix.timeless ? 0 : period * matrix.rows) + row;
	return toCell(matrix.values[i], matrix.marks ? matrix.marks[i] : NUMBER);
}

export function marksOf(matrix: Matrix): Uint8Array {
	return (matrix.marks ??= new Uint8Array(matrix.rows * matrix.periods));
}

/** Writes one input cell; null makes it blank. */
export function setCell(matrix: Matrix, row: number, period: number, value: number | null): void {
	const i = period * matrix.rows + row;
	matrix.values[i] = value ?? 0;
	if (value === null) marksOf(matrix)[i] = BLANK;
	else if (matrix.marks) matrix.marks[i] = NUMBER;
}

/** Makes all cells of the periods from..to (excluded) blank. */
export function blankPeriods(matrix: Matrix, from: number, to: number): void {
	if (to <= from) return;
	matrix.values.fill(0, from * matrix.rows, to * matrix.rows);
	marksOf(matrix).fill(BLANK, from * matrix.rows, to * matrix.rows);
}

/** Writes so many periods of one matrix over those of another of the same rows, from `to` on. */
export function copyPeriods(source: Matrix, from: number, target: Matrix, to: number, count: number): void {
	const { rows, values, marks } = source;
	const [begin, end] = [from * rows, (from + count) * rows];
	target.values.set(values.subarray(begin, end), to * rows);
	if (marks) marksOf(target).set(marks.subarray(begin, end), to * rows);
	else target.marks?.fill(NUMBER, to * rows, (to + count) * rows);
}

export const copyOf = (m: Matrix): Matrix => ({
	...m,
	values: m.values.slice(),
	marks: m.marks?.slice() ?? null
});
