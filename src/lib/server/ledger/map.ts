/** The map from ledger accounts to planning accounts, and the proof that nothing is lost between them. */
import { z } from 'zod';
import type { Knex } from 'knex';
import { suggestAccount, type Suggestion } from '../../core/blocks/driver-model/suggest';
import { mustMay } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';
import { note } from '../company/journal';
import { notFound, Refusal } from '../platform/refusal';
import { companyState, touchCompany } from '../company/structure';
import * as stored from '../platform/db/stored';

export interface MapRow {
	code: string;
	name: string;
	account: string | null;
	/** Debit positive, over all loaded months. */
	amount: number;
	entries: number;
	suggestion: Suggestion | null;
}

export async function readMap(db: Knex, user: User) {
	const state = await companyState(db);
	mustMay(user, 'map ledger accounts', state.structure.departments);
	const { accounts } = state.structure;
	const planning = accounts.all.filter((a) => accounts.isLeaf(a.code));
	const totals = new Map(
		(
			await stored.rows(
				z.object({ ledger_account: stored.text, amount: stored.amount, entries: stored.whole }),
				db('ledger_entry')
					.groupBy('ledger_account')
					.select('ledger_account')
					.sum({ amount: 'amount' })
					.count({ entries: '*' })
			)
		).map((t) => [t.ledger_account, t])
	);
	const rows = state.ledgerAccounts.map((l): MapRow => {
		const t = totals.get(l.code);
		return {
			...l,
			amount: Math.round((t?.amount ?? 0) * 1e4) / 1e4,
			entries: t?.entries ?? 0,
			suggestion: l.account === null ? suggestAccount(l, state.ledgerAccounts, planning) : null
		};
	});
	return {
		rows,
		planning: planning.map((a) => ({
			code: a.code,
			name: a.name,
			type: a.type,
			group: accounts.get(a.parent ?? '')?.name ?? ''
		}))
	};
}

/** Folds a ledger account into a planning account, or unmaps it. Actuals of all months follow. */
export async function mapAccount(
	db: Knex,
	user: User,
	ledger: string,
	account: string | null
): Promise<void> {
	await db.transaction(async (trx) => {
		const { structure, ledgerAccounts } = await companyState(trx);
		mustMay(user, 'map ledger accounts', structure.departments);
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
