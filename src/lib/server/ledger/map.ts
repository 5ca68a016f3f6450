/** The map from ledger accounts to planning accounts, and the proof that nothing is lost between them. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { suggestAccount } from '../../core/company/suggest';
import type { MapRow, PlanningRow } from '../../core/views/map-row';
import type { Account } from '../../core/company/schema';
import { isBalance, naturalFromDebit } from '../../core/company/sign';
import { addedUp, MEASURES, type Amounts } from '../../core/currency/amounts';
import { isMoney } from '../../core/currency/rates';
import { NUMBER } from '../../core/engine/values';
import { entryCurrency } from '../company/entry-currency';
import { note, type Change } from '../company/journal';
import { Known } from '../platform/schemas';
import { notFound, Refusal } from '../platform/refusal';
import { touchCompany, companyFor, type CompanyState } from '../company/structure';
import { readOnce } from '../platform/db/kept';
import * as stored from '../platform/db/stored';
import { asOne, type Context, type Within } from '../platform/context';

const TotalRow = z.object({
	ledger_account: stored.text,
	department: stored.text,
	amount: stored.amount,
	entries: stored.whole
});

/** What the entries themselves come to; all of them are read. */
const readTotals = (db: Knex) =>
	stored.rows(
		TotalRow,
		db('ledger_entry')
			.groupBy('ledger_account', 'department')
			.select('ledger_account', 'department')
			.sum({ amount: 'amount' })
			.count({ entries: '*' })
	);

export async function readMap(context: Context) {
	const { db } = context;
	const state = await companyFor(context, 'map ledger accounts');
	const { accounts } = state.structure;
	const leaves = accounts.all.filter((a) => accounts.isLeaf(a.code));
	const totals = new Map<string, z.output<typeof TotalRow>[]>();
	for (const row of await readOnce(db, 'ledger totals', () => readTotals(db))) {
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
			suggestion: l.account === null ? suggestAccount(l, state.ledgerAccounts, leaves) : null
		};
	});
	return { rows: mapped, planning: planningOf(state) };
}

/** The planning accounts with what is folded into them; of the ledger itself nothing is read. */
export const readPlanning = async (context: Context): Promise<PlanningRow[]> =>
	planningOf(await companyFor(context, 'map ledger accounts'));

function planningOf(state: CompanyState): PlanningRow[] {
	const { accounts } = state.structure;
	const folded = new Map<string, number>();
	for (const { account } of state.ledgerAccounts)
		if (account !== null) folded.set(account, (folded.get(account) ?? 0) + 1);
	return accounts.all.map((a): PlanningRow => ({
		code: a.code,
		name: a.name,
		parent: a.parent,
		type: a.type,
		depth: accounts.depth(a.code),
		leaf: accounts.isLeaf(a.code),
		folded: folded.get(a.code) ?? 0,
		amounts: debitsOf(state, a)
	}));
}

/**
 * Everything that stands in a planning account, debit less credit: the sum of what it took in, or the last balance, with
 * the sign of the ledger. Read from its actuals, and so beside the ledger's own sums.
 */
function debitsOf({ structure, actuals }: CompanyState, account: Account): Amounts {
	const { code, type } = account;
	const own = actuals.accounts.get(code);
	if (!own) return {};
	const sign = naturalFromDebit(type);
	const sums: Record<string, number> = {};
	for (let r = 0; r < own.rows; r++) {
		const currency = isMoney(account) ? structure.rowCurrency[r] : MEASURES;
		for (let t = isBalance(type) ? own.periods - 1 : 0; t < own.periods; t++) {
			const i = t * own.rows + r;
			if (own.marks![i] === NUMBER) sums[currency] = (sums[currency] ?? 0) + sign * own.values[i];
		}
	}
	return addedUp([sums]);
}

export const Mapping = z.strictObject({
	/** Ledger accounts. */
	ledgers: z.array(Known).min(1, 'no ledger account is named').max(20_000),
	/** The planning account that they are part of; null for none. */
	account: Known.nullable()
});

/** Folds ledger accounts into a planning account, or unmaps them. Actuals of all months follow. */
export const mapAccounts = (
	context: Context,
	{ ledgers, account }: z.output<typeof Mapping>
): Promise<void> => asOne(context, (within) => mapInto(within, ledgers, account));

/** @throws Refusal 404 for one that is not there, 422 for a total */
export async function mapInto(
	within: Within,
	ledgers: readonly string[],
	account: string | null
): Promise<void> {
	const { db: trx, user } = within;
	const { structure, ledgerAccounts } = await companyFor(within, 'map ledger accounts');
	if (account !== null && (!structure.accounts.get(account) || !structure.accounts.isLeaf(account)))
		throw new Refusal(422, `“${account}” takes no figures.`);
	const known = new Map(ledgerAccounts.map((l) => [l.code, l]));
	const changes: Change[] = [];
	for (const code of new Set(ledgers)) {
		const was = known.get(code);
		if (!was) throw notFound(`The ledger account “${code}”`);
		if (was.account === account) continue;
		await trx('ledger_account').where({ code }).update({ account });
		changes.push({
			user: user.email,
			kind: 'map',
			scenario: '',
			about: { what: 'map', ledgerAccount: code },
			before: was.account ?? '',
			after: account ?? '',
			why: ''
		});
	}
	if (!changes.length) return;
	await note(trx, changes);
	await touchCompany(trx);
}
