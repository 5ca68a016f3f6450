/** Accounts of the general ledger, each mapped to the planning account that it is part of. */
import type { Knex } from 'knex';
import type { LedgerAccount } from '../../../core/company/schema';
import { insertRows, numbered } from '../../platform/db/rows';
import { plainRows } from '../reading';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import { structureOf } from './dimensions';
import * as cell from '../table';
import * as stored from '../../platform/db/stored';

const FORM = tableForm({
	path: 'ledger-accounts.csv',
	columns: { code: cell.code, name: cell.name, account: cell.optional },
	notes: { account: 'the planning account it is part of, empty while unmapped' },
	unique: ['code'],
	needed: true
});

export const LEDGER_ACCOUNTS: Subject<'ledgerAccounts', LedgerAccount[]> = {
	name: 'ledgerAccounts',
	files: [FORM],
	read(folder) {
		const { accounts } = structureOf(folder);
		const rows = folder.table(FORM);
		for (const { account, rowNumber } of rows)
			folder.expect(
				account === null || (accounts.get(account) !== undefined && accounts.isLeaf(account)),
				FORM.path,
				rowNumber,
				'account',
				`“${account}” is no planning account that takes figures`
			);
		return plainRows(rows);
	},
	write: (accounts, folder) => folder.table(FORM, accounts),
	store: (trx, accounts) => insertRows(trx, 'ledger_account', numbered(accounts)),
	load: readLedgerAccounts
};

export async function readLedgerAccounts(db: Knex): Promise<LedgerAccount[]> {
	return stored.many(
		{ code: 'text', name: 'text', account: 'text or none' },
		db('ledger_account').orderBy('position').select('code', 'name', 'account')
	);
}
