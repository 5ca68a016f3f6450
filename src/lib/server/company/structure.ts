/** The company's structure and actuals as the core wants them, kept in memory until the company's revision changes. */
import { z } from 'zod';
import type { Knex } from 'knex';
import type { Calendar } from '../../core/calendar/calendar';
import { calendarOf } from '../../core/calendar/calendar-of';
import { BLANK, marksOf, newMatrix, setCell, type Matrix } from '../../core/engine/values';
import type { CombinationRule } from '../../core/inputs/schema';
import type { Company, LedgerAccount } from '../../core/company/schema';
import { isBalance, naturalFromDebit } from '../../core/company/sign';
import { blockingOf, type Blocking } from '../../core/inputs/combinations';
import { buildStructure, type Structure } from '../../core/company/structure';
import type { TaggedTotal } from '../../core/scenario/derive';
import type { History } from '../../core/blocks/accounts/schema';
import { tagsFromText } from './subjects/entries';
import { readOnce, sharedBy } from '../platform/db/kept';
import { readCompanyRow } from './subjects/company';
import { readRules } from './subjects/rules';
import { readAccounts } from './subjects/accounts';
import { readDepartments } from './subjects/departments';
import { readDimensions } from './subjects/dimensions';
import { readLedgerAccounts } from './subjects/ledger-accounts';
import { mustMay, type Action } from '../platform/auth/policy';
import type { Context } from '../platform/context';
import * as stored from '../platform/db/stored';

const LoadedSpan = z.object({ first: stored.wholeOrNone, last: stored.wholeOrNone });

export interface CompanyState {
	revision: number;
	company: Company;
	calendar: Calendar;
	/** Last closed month; null before the first. */
	closedThrough: number | null;
	structure: Structure;
	ledgerAccounts: LedgerAccount[];
	/** Which members may hold data together, in order. */
	rules: CombinationRule[];
	/** The rule that blocks a combination. */
	blocking: Blocking;
	/** Actual values of planning accounts, as far as ledger accounts are mapped. */
	actuals: History & { last: number };
}

const cache = new WeakMap<object, CompanyState>();
/** What a transaction has read after changes of its own, which no one else may see. */
const within = new WeakMap<Knex, CompanyState>();

/**
 * The company, for somebody who may do this with it.
 * @throws Refusal 403
 */
export async function companyFor({ db, user }: Context, action: Action): Promise<CompanyState> {
	const state = await companyState(db);
	mustMay(user, action, state.structure.departments);
	return state;
}

/**
 * A transaction uses what is kept as long as it has changed nothing that the revision counts; what it reads after that
 * is kept for itself alone.
 */
export async function companyState(db: Knex): Promise<CompanyState> {
	const row = await readOnce(db, 'company', () => readCompanyRow(db));
	for (const kept of [within.get(db), cache.get(sharedBy(db))])
		if (kept?.revision === row.revision) return kept;
	const calendar = calendarOf(row.company.calendar);
	const structure = buildStructure(
		calendar,
		await readAccounts(db),
		await readDepartments(db),
		await readDimensions(db),
		row.company.currency
	);
	const ledgerAccounts = await readLedgerAccounts(db);
	const rules = await readRules(db);
	const state = {
		...row,
		calendar,
		structure,
		ledgerAccounts,
		rules,
		blocking: blockingOf(rules, structure),
		actuals: await readActuals(db, structure)
	};
	if (db.isTransaction) within.set(db, state);
	else cache.set(sharedBy(db), state);
	return state;
}

/** Everything calculated from structure, map or ledger is out of date after this. */
export async function touchCompany(trx: Knex.Transaction): Promise<void> {
	await trx('company').where({ id: 1 }).increment('revision', 1);
}

async function readActuals(db: Knex, structure: Structure): Promise<CompanyState['actuals']> {
	const totals = await stored.many(
		{ period: 'number', account: 'text', department: 'text', amount: 'number' },
		db('ledger_total')
			.join('ledger_account', 'ledger_account.code', 'ledger_total.ledger_account')
			.whereNotNull('ledger_account.account')
			.groupBy('ledger_total.period', 'ledger_account.account', 'ledger_total.department')
			.select('ledger_total.period', 'ledger_account.account', 'ledger_total.department')
			.sum({ amount: 'ledger_total.amount' })
	);
	const span = await stored.one(
		LoadedSpan,
		db('ledger_total').min({ first: 'period' }).max({ last: 'period' }).first()
	);
	const first = span.first ?? 0;
	const last = span.last ?? -1;
	const periods = last - first + 1;
	const accounts = new Map<string, Matrix>();
	for (const { period, account, department, amount } of totals) {
		let matrix = accounts.get(account);
		if (!matrix) {
			matrix = newMatrix(structure.departmentRows.length, periods);
			marksOf(matrix).fill(BLANK);
			accounts.set(account, matrix);
		}
		const sign = naturalFromDebit(structure.accounts.get(account)!.type);
		// Avoids −0, which would show in exports.
		setCell(matrix, structure.departmentRow.get(department)!, period - first, sign * amount + 0);
	}
	for (const [account, matrix] of accounts)
		if (isBalance(structure.accounts.get(account)!.type)) accumulate(matrix);
	return { first: periods > 0 ? first : Number.MAX_SAFE_INTEGER, last, accounts };
}

const tagged = new WeakMap<CompanyState, Map<Calendar, TaggedTotal[]>>();

/**
 * Actual values of planning accounts by department and tags, natural amounts: by the company’s periods, or by those of
 * another calendar that hold the entries’ dates.
 */
export async function taggedTotals(
	db: Knex,
	state: CompanyState,
	calendar: Calendar = state.calendar
): Promise<TaggedTotal[]> {
	const all = tagged.get(state) ?? new Map<Calendar, TaggedTotal[]>();
	tagged.set(state, all);
	const kept = all.get(calendar);
	if (kept) return kept;
	const totalsBy = <K extends 'number' | 'text'>(column: 'period' | 'date', when: K) =>
		stored.many(
			{ when, account: 'text', department: 'text', tags: 'text', amount: 'number' },
			db('ledger_entry')
				.join('ledger_account', 'ledger_account.code', 'ledger_entry.ledger_account')
				.whereNotNull('ledger_account.account')
				.groupBy(
					`ledger_entry.${column}`,
					'ledger_account.account',
					'ledger_entry.department',
					'ledger_entry.tags'
				)
				.select(
					{ when: `ledger_entry.${column}` },
					'ledger_account.account',
					'ledger_entry.department',
					'ledger_entry.tags'
				)
				.sum({ amount: 'ledger_entry.amount' })
		);
	// Another calendar's periods are found by the day.
	const byDay = calendar !== state.calendar;
	const totals = await (byDay ? totalsBy('date', 'text') : totalsBy('period', 'number'));
	// Very many totals are of few members: each text is read once, and all its totals share what it says.
	const members = new Map<string, Readonly<Record<string, string>>>();
	const membersOf = (tags: string, department: string) => {
		const key = `${department};${tags}`;
		const known = members.get(key) ?? { ...tagsFromText(tags), department };
		members.set(key, known);
		return known;
	};
	const found = totals.map((t) => ({
		period: typeof t.when === 'string' ? calendar.periodOf(t.when)! : t.when,
		account: t.account,
		members: membersOf(t.tags, t.department),
		value: naturalFromDebit(state.structure.accounts.get(t.account)!.type) * t.amount + 0
	}));
	all.set(calendar, found);
	return found;
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
