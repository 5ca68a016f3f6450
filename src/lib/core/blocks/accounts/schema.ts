/** Planned accounts as plain typed data. */
import type { Period } from '../../calendar/calendar';
import type { Matrix } from '../../engine/values';

/** The block of planned accounts by department, in series and references. */
export const LEDGER_BLOCK = 'ledger';

/** How an account in a department gets its plan. Percentages are shares: 0.03 is 3 %. */
export type Basis =
	| { kind: 'typed' }
	| { kind: 'last-year'; percent: number }
	| { kind: 'percent-of'; percent: number; account: string }
	| { kind: 'run-rate'; months: number }
	/** A line of a driver model (`model.line`) times a rate: visits × 120. */
	| { kind: 'driver'; driver: string; rate: number };

export interface BasisEntry {
	account: string;
	department: string;
	basis: Basis;
}

/** Values of accounts by leaf department before the plan opens: actuals, and what the followed scenario says after them. */
export interface History {
	/** Period ordinal of index 0. */
	first: Period;
	accounts: ReadonlyMap<string, Matrix>;
}

/** Where an account in a department has its plan from; a posting wins over a chosen basis. */
export type Origin = { kind: 'posted'; models: string[] } | { kind: 'basis'; basis: Basis };
