/** Signs of accounts. Accounts hold natural amounts: revenue and expense are both positive. */
import type { AccountType } from './schema';

/** +1 where more is better or owned, −1 where more is spent or owed, 0 where it is neither. */
export function senseOf(type: AccountType): 1 | -1 | 0 {
	if (type === 'revenue' || type === 'asset') return 1;
	if (type === 'expense' || type === 'liability' || type === 'equity') return -1;
	return 0;
}

/** Factor with which a child is added into its parent: profit = revenue − expense. */
export function signInParent(child: AccountType, parent: AccountType): 1 | -1 {
	return senseOf(child) * senseOf(parent) < 0 ? -1 : 1;
}

/**
 * Factor from a ledger amount (debit positive) to the account's natural amount:
 * expenses and assets are debits; revenue, liabilities and equity are credits.
 */
export function naturalFromDebit(type: AccountType): 1 | -1 {
	return type === 'revenue' || type === 'liability' || type === 'equity' ? -1 : 1;
}

/** Balances carry on from month to month; flows start anew. */
export function isBalance(type: AccountType): boolean {
	return type === 'asset' || type === 'liability' || type === 'equity';
}
