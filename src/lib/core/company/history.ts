/** What a new company is to begin with, as it is shown before it is taken. */
import type { Laid, Place } from './own-accounts';

export interface HistoryPreview {
	/** A trial balance, or entries with dates. */
	kind: 'balance' | 'ledger';
	accounts: Laid[];
	/** Headings to choose from. */
	places: Place[];
	rows: number;
	/** Rows of totals. */
	leftOut: number;
	/** The first ones; `faultCount` of them in all. */
	faults: { message: string; file?: string; row?: number; column?: string }[];
	faultCount: number;
	/** An amount such as 1,234 of which the file does not tell what its sign means. */
	doubtful: string | null;
	decimal: '.' | ',';
	/** Sums of accounts in debit and in credit, both positive. */
	debits: number;
	credits: number;
	/** First and last period with figures, in words; empty without any. */
	covers: string;
}
