/** Actual values of planning accounts, natural amounts, of what the ledger's months come to. */
import type { Knex } from 'knex';
import type { Calendar, Period } from '../../core/calendar/calendar';
import type { History } from '../../core/blocks/accounts/schema';
import type { LedgerAccount } from '../../core/company/schema';
import { isBalance, naturalFromDebit } from '../../core/company/sign';
import type { Structure } from '../../core/company/structure';
import { BLANK, NUMBER, marksOf, newMatrix, setCell, type Matrix } from '../../core/engine/values';
import type { TaggedSeries } from '../../core/scenario/derive';
import * as stored from '../platform/db/stored';
import { addTo, nameOf, type LedgerKey, type LedgerMonths } from './ledger-months';
import { tagsFromText } from './subjects/entries';

/** Actuals by account and department; `last` is −1 before anything is loaded. */
export interface Actuals extends History {
	last: number;
}

/** As far as ledger accounts are mapped; balances stand at the end of each month. */
export function actualsOf(
	{ keys, months }: LedgerMonths,
	structure: Structure,
	ledgerAccounts: readonly LedgerAccount[]
): Actuals {
	if (!months.length) return { first: Number.MAX_SAFE_INTEGER, last: -1, accounts: new Map() };
	const first = months[0].period;
	const last = months[months.length - 1].period;
	const accountOf = mappedTo(ledgerAccounts);
	const rows = structure.departmentRows.length;
	const found = new Map<string, { matrix: Matrix; lost: Float64Array }>();
	for (const { period, keys: ids, amounts } of months) {
		const start = (period - first) * rows;
		ids.forEach((id, i) => {
			const key = keys.get(id)!;
			const account = accountOf.get(key.ledgerAccount);
			if (account === undefined) return;
			let own = found.get(account);
			if (!own) {
				const matrix = newMatrix(rows, last - first + 1);
				marksOf(matrix).fill(BLANK);
				found.set(account, (own = { matrix, lost: new Float64Array(matrix.values.length) }));
			}
			const at = start + structure.departmentRow.get(key.department)!;
			own.matrix.marks![at] = NUMBER;
			addTo(own.matrix.values, own.lost, at, amounts[i]);
		});
	}
	const accounts = new Map<string, Matrix>();
	for (const [account, { matrix, lost }] of found) {
		const { type } = structure.accounts.get(account)!;
		const sign = naturalFromDebit(type);
		const { values } = matrix;
		// Avoids −0, which would show in exports.
		for (let i = 0; i < values.length; i++) values[i] = sign * (values[i] + lost[i]) + 0;
		if (isBalance(type)) accumulate(matrix);
		accounts.set(account, matrix);
	}
	return { first, last, accounts };
}

/** Movements of a balance account become its balance at the end of each month. */
function accumulate(matrix: Matrix): void {
	for (let r = 0; r < matrix.rows; r++) {
		let balance = 0;
		let begun = false;
		for (let t = 0; t < matrix.periods; t++) {
			const i = t * matrix.rows + r;
			if (matrix.marks![i] !== BLANK) {
				balance += matrix.values[i];
				begun = true;
			}
			if (begun) setCell(matrix, r, t, balance);
		}
	}
}

const mappedTo = (ledgerAccounts: readonly LedgerAccount[]): Map<string, string> =>
	new Map(ledgerAccounts.flatMap((l) => (l.account === null ? [] : [[l.code, l.account]])));

/** By department and tags, each ledger account for itself: by the company's own periods. */
export function taggedByMonth(
	{ keys, months }: LedgerMonths,
	structure: Structure,
	ledgerAccounts: readonly LedgerAccount[]
): TaggedSeries[] {
	if (!months.length) return [];
	const collected = collecting(months[0].period, months[months.length - 1].period);
	for (const { period, keys: ids, amounts } of months)
		ids.forEach((id, i) => collected.add(keys.get(id)!, period, amounts[i]));
	return collected.series(structure, ledgerAccounts);
}

/** The same by the periods of another calendar that hold the entries' dates. */
export async function taggedByDate(
	db: Knex,
	calendar: Calendar,
	structure: Structure,
	ledgerAccounts: readonly LedgerAccount[]
): Promise<TaggedSeries[]> {
	const by = ['ledger_account', 'department', 'tags'];
	const days = await stored.many(
		{ ledger_account: 'text', department: 'text', tags: 'text', date: 'text', amount: 'number' },
		db('ledger_entry')
			.groupBy([...by, 'date'])
			.orderBy('date')
			.select([...by, 'date'])
			.sum({ amount: 'amount' })
	);
	if (!days.length) return [];
	const periodOf = (date: string) => calendar.periodOf(date)!;
	const collected = collecting(periodOf(days[0].date), periodOf(days[days.length - 1].date));
	const keys = new Map<string, LedgerKey>();
	for (const d of days) {
		const own = { ledgerAccount: d.ledger_account, department: d.department, tags: d.tags };
		const key = keys.get(nameOf(own)) ?? own;
		keys.set(nameOf(own), key);
		collected.add(key, periodOf(d.date), d.amount);
	}
	return collected.series(structure, ledgerAccounts);
}

/** Amounts by key and period, as series of the planning accounts. Equal keys are the same value. */
function collecting(first: Period, last: Period) {
	const found = new Map<LedgerKey, Float64Array>();
	return {
		add(key: LedgerKey, period: Period, amount: number): void {
			let values = found.get(key);
			if (!values) found.set(key, (values = new Float64Array(last - first + 1).fill(NaN)));
			const before = values[period - first];
			values[period - first] = Number.isNaN(before) ? amount : before + amount;
		},
		series(structure: Structure, ledgerAccounts: readonly LedgerAccount[]): TaggedSeries[] {
			const accountOf = mappedTo(ledgerAccounts);
			// Many keys have the same members: each text is read once.
			const membersOf = new Map<string, Readonly<Record<string, string>>>();
			return [...found].flatMap(([{ ledgerAccount, department, tags }, values]) => {
				const account = accountOf.get(ledgerAccount);
				if (account === undefined) return [];
				const name = `${department}\n${tags}`;
				const members = membersOf.get(name) ?? { ...tagsFromText(tags), department };
				membersOf.set(name, members);
				const sign = naturalFromDebit(structure.accounts.get(account)!.type);
				return [{ account, members, first, values: values.map((v) => sign * v + 0) }];
			});
		}
	};
}
