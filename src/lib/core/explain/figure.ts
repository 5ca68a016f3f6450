/** A figure that has been opened: its trace, with what the ledger and the journal know of it. */
import type { Usual } from '../analysis/unusual';
import type { Trace } from './trace';

export interface LedgerLine {
	date: string;
	ledgerAccount: string;
	ledgerName: string;
	department: string;
	party: string;
	document: string;
	description: string;
	/** Natural amount of the planning account, in the currency of its department. */
	amount: number;
	currency: string;
	unusual: boolean;
	usual: Usual | null;
}

export interface FigureChange {
	at: string;
	/** Who changed it. */
	name: string;
	kind: string;
	before: string;
	after: string;
	why: string;
}

export interface FigureView {
	trace: Trace;
	title: string;
	place: string;
	/** What stands in a column of a row, in words; absent for a figure by period. */
	column?: { text: string };
	scenarioName: string;
	/** Entries behind actuals: unusual ones first, then the largest. */
	ledger: {
		lines: LedgerLine[];
		count: number;
		/** Null where they are in several currencies. */
		total: number | null;
	} | null;
	history: FigureChange[];
	followedName: string | null;
	formulaLine: string | null;
}
