/** In which currency amounts of ledger entries are added up. */
import type { LedgerAccount } from '../../core/company/schema';
import type { Structure } from '../../core/company/structure';
import { MEASURES } from '../../core/currency/amounts';
import { isMoney } from '../../core/currency/rates';
import { ownValue } from '../../core/text';

/**
 * That of the department's legal entity; none for what goes to statistics. What is not mapped yet passes for money.
 * @param map planning accounts that stand in the place of those in the map
 */
export function entryCurrency(
	structure: Structure,
	ledgerAccounts: readonly LedgerAccount[],
	map: Readonly<Record<string, string | null>> = {}
): (ledgerAccount: string, department: string) => string {
	const { accounts, departmentRow, rowCurrency, currency } = structure;
	const accountOf = new Map(ledgerAccounts.map((l) => [l.code, l.account]));
	return (ledgerAccount, department) => {
		const account = accounts.get(ownValue(map, ledgerAccount) ?? accountOf.get(ledgerAccount) ?? '');
		if (account && !isMoney(account)) return MEASURES;
		return rowCurrency[departmentRow.get(department) ?? -1] ?? currency;
	};
}
