/** Where an account in a department has its plan from, as plain typed data. */

/** How it gets its plan. Percentages are shares: 0.03 is 3 %. */
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

/** Where an account in a department has its plan from; a posting wins over a chosen basis. */
export type Origin = { kind: 'posted'; models: string[] } | { kind: 'basis'; basis: Basis };
