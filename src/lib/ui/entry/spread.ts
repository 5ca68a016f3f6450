/** What a typed total is spread into, as plain data. */
import type { NumberFormat } from '../../core/company/schema';

/** The year before, among scenarios whose shape can be taken. */
export const LAST_YEAR = '@last-year';

/** Says why totals cannot be typed. */
export class CannotSpread extends Error {}

export interface SpreadCellView {
	column: string;
	label: string;
	/** What stands there, typed and not saved included; null is blank. */
	value: number | null;
	/** What is saved there. */
	before: number | null;
	/** Whether it may be changed; a closed month may not. */
	open: boolean;
	/** What a unit of it is worth in the total's, where it counts in another currency. */
	factor?: number;
}
export interface SpreadRow {
	key: string;
	name: string;
	cells: SpreadCellView[];
}

/** Cells under totals, and what was typed into these. */
export interface Spread {
	title: string;
	/** Null asks for it. */
	typed: number | null;
	rows: SpreadRow[];
	format: NumberFormat;
	/** Something to know before: what lies over the cells. */
	hint?: string;
}

/** Decimals to which values of a line are entered: cents for money, whole pieces where all are whole. */
export function entryDecimals(
	format: NumberFormat,
	rows: readonly SpreadRow[],
	moneyDecimals: number
): number {
	if (format === 'money') return moneyDecimals;
	if (format === 'price') return 4;
	if (format === 'percent') return 6;
	return rows.every((r) => r.cells.every((c) => c.value === null || Number.isInteger(c.value))) ? 0 : 2;
}
