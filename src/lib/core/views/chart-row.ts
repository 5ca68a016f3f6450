/** An account of the chart as it is set up, with what hangs on it. */
import type { Account, CashFlow } from '../company/schema';

export interface ChartRow extends Account {
	depth: number;
	leaf: boolean;
	/** Where it stands in the cash flow, by itself or by its heading. */
	flow: CashFlow;
	/** Figures stand in it: it can have none under it, and not go. */
	holds: boolean;
	/** Ledger accounts folded into it. */
	ledger: number;
}

/** What a change would move: an account's figures in a scenario, over all its months. */
export interface MovedFigures {
	/** Where several were changed: whose figures they are. */
	account?: string;
	department?: string;
	scenario: string;
	currency: string;
	/** Natural amount: the sum, or the last balance; null where a rate is missing for it. */
	amount: number | null;
}
