/** The two sides of the account map, as its page shows them. */
import type { AccountType } from '../company/schema';
import type { Suggestion } from '../company/suggest';
import type { Amounts } from '../currency/amounts';

/** A ledger account, and where it is. */
export interface MapRow {
	code: string;
	name: string;
	/** The planning account that it is part of; null for none. */
	account: string | null;
	/** Debit positive, over all loaded months, by the currencies of the departments. */
	amounts: Amounts;
	entries: number;
	suggestion: Suggestion | null;
}

/** A planning account, or a heading of some, with what is folded into it. */
export interface PlanningRow {
	code: string;
	name: string;
	/** The heading that it lies under. */
	parent: string | null;
	type: AccountType;
	depth: number;
	leaf: boolean;
	/** Ledger accounts folded into it. */
	folded: number;
	/** Debit positive, over all loaded months, as its actuals have it. */
	amounts: Amounts;
}
