/** Usual sizes of ledger entries, from the year before a month. */
import type { Knex } from 'knex';
import type { Calendar, Period } from '../../core/calendar/calendar';
import { yearBefore } from '../../core/calendar/last-year';
import { usualSize, type Usual } from '../../core/analysis/unusual';
import * as stored from '../platform/db/stored';

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
		{ ledger_account: 'text', department: 'text', amount: 'number' },
		db('ledger_entry')
			.whereIn('ledger_account', ledgerAccounts as string[])
			.whereBetween('period', [yearBefore(calendar, month), month - 1])
			.select('ledger_account', 'department', 'amount')
	);
	const amounts = new Map<string, number[]>();
	const add = (key: string, amount: number) => {
		const list = amounts.get(key);
		if (list) list.push(amount);
		else amounts.set(key, [amount]);
	};
	for (const h of history) {
		add(h.ledger_account, h.amount);
		add(`${h.ledger_account} ${h.department}`, h.amount);
	}
	const sizes = new Map([...amounts].map(([key, list]) => [key, usualSize(list)]));
	return (account, department) => sizes.get(`${account} ${department}`) ?? sizes.get(account) ?? null;
}
