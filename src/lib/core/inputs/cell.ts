/** Where a figure stands that can be typed: one way from the grid to the journal. */
import type { Period } from '../calendar/calendar';

export interface CellAddress {
	/** A driver model's code, or that of planned accounts. */
	block: string;
	/** A line's or an account's code. */
	line: string;
	/** A row's key, or a department's code. */
	row: string;
	period: Period;
}

/** The same as addresses, bodies and the journal write it: its period in the block's own writing. */
export type Written<C extends CellAddress = CellAddress> = Omit<C, 'period'> & { period: string };

/** A typed value; null takes it away. */
export interface TypedCell extends CellAddress {
	value: number | null;
}

/** The same with what the writer saw typed there before. */
export interface CellEdit extends TypedCell {
	before: number | null;
}
