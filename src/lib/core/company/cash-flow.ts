/** Where accounts stand in the cash flow statement (IAS 7). */
import type { Account, CashFlow } from './schema';
import type { Tree } from './tree';

/** Where nothing is said, up to the top. */
const byType = ({ type }: Account): CashFlow => (type === 'equity' ? 'financing' : 'operating');

/**
 * Where each account stands: as it says itself; else as the nearest heading above it that says; else equity among
 * financing, and all else among operating activities.
 */
export function cashFlows(accounts: Tree<Account>): ReadonlyMap<string, CashFlow> {
	const said = new Map<string, CashFlow | null>();
	const flows = new Map<string, CashFlow>();
	// Parents stand before what is under them.
	for (const account of accounts.all) {
		const own = account.cashFlow ?? said.get(account.parent ?? '') ?? null;
		said.set(account.code, own);
		flows.set(account.code, own ?? byType(account));
	}
	return flows;
}
