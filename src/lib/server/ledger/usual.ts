/** Usual sizes of ledger entries, from the year before a month. */
import type { Knex } from 'knex';
import type { Period } from '../../core/calendar/calendar';
import { yearBefore } from '../../core/calendar/last-year';
import { isBalance } from '../../core/company/sign';
import { usualSize, type Usual } from '../../core/analysis/unusual';
import type { LedgerMonths } from '../company/ledger-months';
import type { CompanyState } from '../company/structure';
import { listOf } from '../platform/db/rows';
import * as stored from '../platform/db/stored';

/** Accounts whose entries have a usual size: what is earned, spent or counted. What is paid and settled has none. */
const judged = ({ structure, ledgerAccounts }: CompanyState, codes: readonly string[]): string[] => {
	const accountOf = new Map(ledgerAccounts.map((l) => [l.code, l.account]));
	return codes.filter((code) => {
		const account = structure.accounts.get(accountOf.get(code) ?? '');
		return !account || !isBalance(account.type);
	});
};

/**
 * Answers the usual size of an entry on a ledger account in a department; where the department has too little history,
 * that of the departments of the account that count in the same currency. The month itself is left out, so that a wrong
 * entry does not make itself usual. Null for assets, liabilities and equity: a document keyed wrong shows on its other
 * side.
 */
export async function usualSizes(
	db: Knex,
	state: CompanyState,
	ledgerAccounts: readonly string[],
	month: Period
): Promise<(ledgerAccount: string, department: string) => Usual | null> {
	const { structure } = state;
	const entries = await yearOf(db, state, judged(state, ledgerAccounts), month);
	const currencyOf = (department: string) =>
		structure.rowCurrency[structure.departmentRow.get(department) ?? -1] ?? structure.currency;
	const byDepartment = sizesBy(entries, (department) => department);
	const byCurrency = sizesBy(entries, currencyOf);
	return (account, department) =>
		byDepartment(account, department) ?? byCurrency(account, currencyOf(department));
}

/** What was read last of the year before a month, as long as nothing is booked: a file is looked at several times. */
const kept = new WeakMap<LedgerMonths, { month: Period; entries: Map<string, OfAccount> }>();

/** Entries of these accounts in the year before a month. */
async function yearOf(
	db: Knex,
	{ footing, calendar }: CompanyState,
	accounts: readonly string[],
	month: Period
): Promise<ReadonlyMap<string, OfAccount>> {
	const last = kept.get(footing.ledger);
	// A transaction may have booked what nobody else sees yet.
	const have = last?.month === month && !db.isTransaction ? last.entries : new Map<string, OfAccount>();
	const missing = accounts.filter((code) => !have.has(code));
	if (!missing.length) return have;
	const read = await stored.many(
		{ ledger_account: 'text', departments: 'text', amounts: 'text' },
		db('ledger_entry')
			.whereIn('ledger_account', missing)
			.whereBetween('period', [yearBefore(calendar, month), month - 1])
			.groupBy('ledger_account')
			.select({
				ledger_account: 'ledger_account',
				departments: listOf(db, 'department'),
				amounts: listOf(db, 'amount')
			})
	);
	for (const code of missing) have.set(code, { departments: [], amounts: [] });
	// Lists that were made a moment ago, of columns that hold nothing else.
	for (const { ledger_account, departments, amounts } of read)
		have.set(ledger_account, { departments: JSON.parse(departments), amounts: JSON.parse(amounts) });
	if (!db.isTransaction) kept.set(footing.ledger, { month, entries: have });
	return have;
}

/** Entries of an account: their departments and amounts, side by side. */
interface OfAccount {
	departments: readonly string[];
	amounts: readonly number[];
}
/** Amounts that belong together, and their usual size once it has been asked. */
interface Sized {
	amounts: number[];
	size?: Usual | null;
}
/** Usual sizes of each account’s entries, apart by what `of` says of their departments; null for too few. */
function sizesBy(entries: ReadonlyMap<string, OfAccount>, of: (department: string) => string) {
	const read = new Map<string, Map<string, Sized>>();
	const apart = (account: string) => {
		const have = read.get(account);
		if (have) return have;
		const found = new Map<string, Sized>();
		const { departments, amounts } = entries.get(account) ?? { departments: [], amounts: [] };
		for (let i = 0; i < amounts.length; i++) {
			const name = of(departments[i]);
			const own = found.get(name);
			if (own) own.amounts.push(amounts[i]);
			else found.set(name, { amounts: [amounts[i]] });
		}
		read.set(account, found);
		return found;
	};
	return (account: string, name: string): Usual | null => {
		const own = apart(account).get(name);
		if (!own) return null;
		if (own.size === undefined) own.size = usualSize(own.amounts);
		return own.size;
	};
}
