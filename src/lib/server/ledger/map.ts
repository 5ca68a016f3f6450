/** The map from ledger accounts to planning accounts, and the proof that nothing is lost between them. */
import { z } from 'zod';
import { suggestAccount, type Suggestion } from '../../core/company/suggest';
import { addedUp, type Amounts } from '../../core/currency/amounts';
import { entryCurrency } from '../company/entry-currency';
import { note } from '../company/journal';
import { notFound, Refusal } from '../platform/refusal';
import { touchCompany, companyFor } from '../company/structure';
import * as stored from '../platform/db/stored';
import { asOne, type Context } from '../platform/context';

const TotalRow = z.object({
	ledger_account: stored.text,
	department: stored.text,
	amount: stored.amount,
	entries: stored.whole
});

export interface MapRow {
	code: string;
	name: string;
	account: string | null;
	/** Debit positive, over all loaded months, by the currencies of the departments. */
	amounts: Amounts;
	entries: number;
	suggestion: Suggestion | null;
}

export async function readMap(context: Context) {
	const { db } = context;
	const state = await companyFor(context, 'map ledger accounts');
	const { accounts } = state.structure;
	const planning = accounts.all.filter((a) => accounts.isLeaf(a.code));
	const totals = new Map<string, z.output<typeof TotalRow>[]>();
	const rows = await stored.rows(
		TotalRow,
		db('ledger_entry')
			.groupBy('ledger_account', 'department')
			.select('ledger_account', 'department')
			.sum({ amount: 'amount' })
			.count({ entries: '*' })
	);
	for (const row of rows) {
		const list = totals.get(row.ledger_account);
		if (list) list.push(row);
		else totals.set(row.ledger_account, [row]);
	}
	const currencyOf = entryCurrency(state.structure, state.ledgerAccounts);
	const amountOf = ({ ledger_account, department, amount }: z.output<typeof TotalRow>): Amounts => ({
		[currencyOf(ledger_account, department)]: amount
	});
	const mapped = state.ledgerAccounts.map((l): MapRow => {
		const own = totals.get(l.code) ?? [];
		return {
			...l,
			amounts: addedUp(own.map(amountOf)),
			entries: own.reduce((n, t) => n + t.entries, 0),
			suggestion: l.account === null ? suggestAccount(l, state.ledgerAccounts, planning) : null
		};
	});
	return {
		rows: mapped,
		planning: planning.map((a) => ({
			code: a.code,
			name: a.name,
			type: a.type,
			group: accounts.get(a.parent ?? '')?.name ?? ''
		}))
	};
}

/** Folds a ledger account into a planning account, or unmaps it. Actuals of all months follow. */
export async function mapAccount(context: Context, ledger: string, account: string | null): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const { structure, ledgerAccounts } = await companyFor(within, 'map ledger accounts');
		const known = ledgerAccounts.find((l) => l.code === ledger);
		if (!known) throw notFound(`The ledger account “${ledger}”`);
		if (account !== null && (!structure.accounts.get(account) || !structure.accounts.isLeaf(account)))
			throw new Refusal(422, `“${account}” takes no figures.`);
		if (known.account === account) return;
		await trx('ledger_account').where({ code: ledger }).update({ account });
		await note(trx, [
			{
				user: user.email,
				kind: 'map',
				scenario: '',
				about: { what: 'map', ledgerAccount: ledger },
				before: known.account ?? '',
				after: account ?? '',
				why: ''
			}
		]);
		await touchCompany(trx);
	});
}
