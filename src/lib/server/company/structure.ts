/** The company's structure and actuals as the core wants them, kept in memory until the company's revision changes. */
import type { Knex } from 'knex';
import type { Calendar } from '../../core/calendar/calendar';
import { calendarOf } from '../../core/calendar/calendar-of';
import type { CombinationRule } from '../../core/inputs/schema';
import type { Company, LedgerAccount } from '../../core/company/schema';
import { blockingOf, type Blocking } from '../../core/inputs/combinations';
import type { RateSet } from '../../core/currency/rates';
import { buildStructure, type Structure } from '../../core/company/structure';
import type { TaggedSeries } from '../../core/scenario/derive';
import { actualsOf, taggedByDate, taggedByMonth, type Actuals } from './actuals';
import { readLedgerMonths, type LedgerMonths } from './ledger-months';
import { readOnce, sharedBy, type Tables } from '../platform/db/kept';
import { footingOf, type Footing } from './footing';
import { readCompanyRow } from './subjects/company';
import { readRules } from './subjects/rules';
import { readAccounts } from './subjects/accounts';
import { readDepartments, readEntities } from './subjects/departments';
import { readRateSets } from './subjects/rates';
import { readDimensions } from './subjects/dimensions';
import { readLedgerAccounts } from './subjects/ledger-accounts';
import { mustMay, type Action } from '../platform/auth/policy';
import type { Context } from '../platform/context';

export interface CompanyState {
	revision: number;
	/** What calculations rest on: another one as soon as a figure of theirs could be another. */
	footing: Footing;
	company: Company;
	calendar: Calendar;
	/** Last closed month; null before the first. */
	closedThrough: number | null;
	structure: Structure;
	ledgerAccounts: LedgerAccount[];
	/** Exchange rates, in sets. */
	rateSets: RateSet[];
	/** Which members may hold data together, in order. */
	rules: CombinationRule[];
	/** The rule that blocks a combination. */
	blocking: Blocking;
	/** What the ledger's months come to. */
	ledger: LedgerMonths;
	/** Actual values of planning accounts, as far as ledger accounts are mapped. */
	actuals: Actuals;
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

const COMPANY: Tables = ['company'];

/**
 * A transaction uses what is kept as long as it has changed nothing that the revision counts; what it reads after that
 * is kept for itself alone.
 */
export async function companyState(db: Knex): Promise<CompanyState> {
	const row = await readOnce(db, 'company', () => readCompanyRow(db), COMPANY);
	for (const kept of [within.get(db), cache.get(sharedBy(db))])
		if (kept?.revision === row.revision) return kept;
	const calendar = calendarOf(row.company.calendar);
	const structure = buildStructure(
		calendar,
		await readAccounts(db),
		await readDepartments(db),
		await readDimensions(db),
		row.company.currency,
		await readEntities(db)
	);
	const rateSets = await readRateSets(db);
	const ledgerAccounts = await readLedgerAccounts(db);
	const rules = await readRules(db);
	const ledger = await readLedgerMonths(db);
	const { company, closedThrough } = row;
	const last = within.get(db) ?? cache.get(sharedBy(db));
	const footing = footingOf(
		{ company, closedThrough, structure, rateSets, ledgerAccounts, rules, ledger },
		last?.footing
	);
	const state = {
		...row,
		footing,
		calendar,
		structure,
		ledgerAccounts,
		rateSets,
		rules,
		blocking: blockingOf(rules, structure),
		ledger,
		actuals: last?.footing === footing ? last.actuals : actualsOf(ledger, structure, ledgerAccounts)
	};
	if (db.isTransaction) within.set(db, state);
	else cache.set(sharedBy(db), state);
	return state;
}

/** What is kept of structure, map and ledger is read again after this, and what is calculated of it where its footing is another. */
export async function touchCompany(trx: Knex.Transaction): Promise<void> {
	await trx('company').where({ id: 1 }).increment('revision', 1);
}

const tagged = new WeakMap<Footing, Map<Calendar, readonly TaggedSeries[]>>();

/**
 * Actual values of planning accounts by department and tags, natural amounts: by the company’s periods, or by those of
 * another calendar that hold the entries’ dates.
 */
export async function taggedActuals(
	db: Knex,
	state: CompanyState,
	calendar: Calendar = state.calendar
): Promise<readonly TaggedSeries[]> {
	const all = tagged.get(state.footing) ?? new Map<Calendar, readonly TaggedSeries[]>();
	tagged.set(state.footing, all);
	const kept = all.get(calendar);
	if (kept) return kept;
	const { structure, ledgerAccounts } = state;
	const found =
		calendar === state.calendar
			? taggedByMonth(state.ledger, structure, ledgerAccounts)
			: await taggedByDate(db, calendar, structure, ledgerAccounts);
	all.set(calendar, found);
	return found;
}
