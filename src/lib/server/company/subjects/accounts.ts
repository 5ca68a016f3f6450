/** Planning accounts, as a tree. */
import { z } from 'zod';
import type { Knex } from 'knex';
import { monthCalendar } from '../../../core/calendar/calendar';
import { chartFaults } from '../../../core/company/chart';
import { AccountType, CashFlow, NumberFormat, TimeRollup, type Account } from '../../../core/company/schema';
import { insertRows, numbered } from '../../platform/db/rows';
import { plainRows, Reading } from '../reading';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import * as cell from '../table';
import * as stored from '../../platform/db/stored';

const FORM = tableForm({
	path: 'accounts.csv',
	columns: {
		code: cell.code,
		name: cell.name,
		parent: cell.optional,
		type: cell.oneOf(AccountType.options),
		rollup: cell.oneOf(TimeRollup.options),
		format: cell.oneOf(NumberFormat.options),
		cash_flow: cell.orNull(cell.oneOf(CashFlow.options)),
		translation: cell.orNull(cell.yesNo)
	},
	notes: {
		cash_flow:
			'where it and what is under it stand in the cash flow: `operating`, `investing`, `financing`, `none` for what is never paid such as depreciation, `cash` for cash itself; empty: as its heading',
		translation: '`yes` for the one equity account in which translation differences stand'
	},
	says: 'the planning accounts as a tree',
	later: {
		cash_flow: 'equity is financing, and all else operating',
		translation: 'no account holds translation differences'
	},
	needed: true
});

/**
 * A chart of accounts by itself, in the form of its file.
 * @throws Refusal with every fault, by row and column
 */
export function readChart(content: string): Account[] {
	const folder = new Reading(new Map([[FORM.path, content]]));
	// Nothing of an account is written in periods, so that any calendar will do.
	folder.calendar = monthCalendar(1);
	folder.take(ACCOUNTS);
	if (folder.faults.length) throw folder.refusal();
	return folder.of(ACCOUNTS);
}

export const ACCOUNTS: Subject<'accounts', Account[]> = {
	name: 'accounts',
	files: [FORM],
	read(folder) {
		// Earlier versions knew only what is never paid, in a column of its own.
		const rows = folder
			.table(FORM, FORM.path, { more: ['cash'] })
			.map(({ cash_flow, translation, ...a }) => ({
				...a,
				cashFlow: cash_flow ?? (a.more.cash === 'no' ? ('none' as const) : null),
				translation: translation === true
			}));
		return plainRows(folder.tree(FORM.path, rows, chartFaults(rows)));
	},
	write: (accounts, folder) =>
		folder.table(
			FORM,
			accounts.map((a) => ({ ...a, cash_flow: a.cashFlow ?? '', translation: a.translation ? 'yes' : '' }))
		),
	store: (trx, accounts) => insertRows(trx, 'account', numbered(accounts.map(accountToRow))),
	load: readAccounts
};

export const accountToRow = ({ cashFlow, ...a }: Account) => ({
	...a,
	cash_flow: cashFlow ?? null,
	translation: a.translation ? 1 : 0
});

const AccountRow = z.object({
	code: stored.text,
	name: stored.text,
	parent: stored.textOrNone,
	type: AccountType,
	rollup: TimeRollup,
	format: NumberFormat,
	cash_flow: CashFlow.nullable(),
	translation: stored.flag
});

export async function readAccounts(db: Knex): Promise<Account[]> {
	const rows = await stored.rows(AccountRow, db('account').orderBy('position'));
	return rows.map(({ cash_flow, ...a }) => ({ ...a, cashFlow: cash_flow }));
}
