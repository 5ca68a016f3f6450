/** Accounts as rows of a table: what of each can be typed, many at once. */
import type { Account } from '../../core/company/schema';
import type { ChartRow } from '../../core/views/chart-row';
import type { Entered, WordEntry } from '../grid/entered';
import type { GridCell, GridColumn } from '../grid/types';
import { picked, WORDS } from '../grid/word-entries';
import { FLOWS, FORMATS, ROLLUPS, TYPES } from './account-words';

/** What can be typed of an account. */
export type AccountColumn = keyof Pick<Account, 'name' | 'type' | 'rollup' | 'format' | 'cashFlow'>;

export const ACCOUNT_COLUMNS: readonly GridColumn[] = [
	{ key: 'name', label: 'Name', width: 260, kind: 'text', grows: true },
	{ key: 'type', label: 'Is', width: 110, kind: 'text' },
	{ key: 'rollup', label: 'Over time', width: 130, kind: 'text' },
	{ key: 'format', label: 'Written as', width: 140, kind: 'text' },
	{ key: 'cashFlow', label: 'Cash flow', width: 150, kind: 'text' },
	{ key: 'ledger', label: 'Ledger accounts', width: 120, kind: 'text', align: 'right' }
];
const AS_HEADING = 'as its heading';
const offered = (list: readonly { value: string; name: string }[], blank = '') =>
	picked(
		list.map(({ value, name }) => ({ code: value, name })),
		blank
	);
const ENTRIES: Readonly<Record<AccountColumn, WordEntry>> = {
	name: WORDS,
	type: offered(TYPES),
	rollup: offered(ROLLUPS),
	format: offered(FORMATS),
	cashFlow: offered(FLOWS, AS_HEADING)
};
const isColumn = (key: string): key is AccountColumn => Object.hasOwn(ENTRIES, key);

export function accountCell(account: ChartRow, key: string): GridCell {
	if (isColumn(key)) return { value: null, typed: account[key] ?? null, entry: ENTRIES[key], editable: true };
	return {
		value: null,
		text: account.ledger ? String(account.ledger) : '',
		reason: 'Ledger accounts are folded into it under Account map.'
	};
}

/** What stands in a cell, in words. */
export const accountWords = (key: string, value: Entered): string =>
	isColumn(key) ? ENTRIES[key].shown(value) : String(value ?? '');
