/** Usual sizes of ledger entries, from the year before a month. */
import { z } from 'zod';
import type { Knex } from 'knex';
import type { Calendar, Period } from '../../core/calendar/calendar';
import { yearBefore } from '../../core/calendar/last-year';
import { usualSize, type Usual } from '../../core/analysis/unusual';
import { listOf } from '../platform/db/rows';
import * as stored from '../platform/db/stored';

const Texts = z.array(z.string());
const Amounts = z.array(z.number());

/**
 * Answers the usual size of an entry on a ledger account in a department; where the department has too little history,
 * that of the account as a whole. The month itself is left out, so that a wrong entry does not make itself usual.
 */
export async function usualSizes(
	db: Knex,
	calendar: Calendar,
	ledgerAccounts: readonly string[],
	month: Period
): Promise<(ledgerAccount: string, department: string) => Usual | null> {
	const history = await stored.many(
		{ ledger_account: 'text', departments: 'text', amounts: 'text' },
		db('ledger_entry')
			.whereIn('ledger_account', ledgerAccounts as string[])
			.whereBetween('period', [yearBefore(calendar, month), month - 1])
			.groupBy('ledger_account')
			.select({
				ledger_account: 'ledger_account',
				departments: listOf(db, 'department'),
				amounts: listOf(db, 'amount')
			})
	);
	const entries = new Map(
		history.map((h) => [
			h.ledger_account,
			{ departments: Texts.parse(JSON.parse(h.departments)), amounts: Amounts.parse(JSON.parse(h.amounts)) }
		])
	);
	const sizes = new Map<string, Usual | null>();
	const sizeOf = (account: string, department: string | null): Usual | null => {
		const key = department === null ? account : `${account} ${department}`;
		const known = sizes.get(key);
		if (known !== undefined) return known;
		const own = entries.get(account);
		const amounts = own
			? department === null
				? own.amounts
				: own.amounts.filter((_, i) => own.departments[i] === department)
			: [];
		const size = usualSize(amounts);
		sizes.set(key, size);
		return size;
	};
	return (account, department) => sizeOf(account, department) ?? sizeOf(account, null);
}
