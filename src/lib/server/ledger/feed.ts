/** The ledger feed: showing what a month's file would do, and running it, all or nothing. */
import type { Knex } from 'knex';
import { addedUp, type Amounts } from '../../core/currency/amounts';
import { isUnusual } from '../../core/analysis/unusual';
import { suggestAccount, type Suggestion } from '../../core/company/suggest';
import { ownValue } from '../../core/text';
import { FeedRunRow } from '../company/subjects/feed-runs';
import { deleteEntries, entriesIn, insertEntries } from '../company/subjects/entries';
import { entryCurrency } from '../company/entry-currency';
import { note } from '../company/journal';
import { Refusal, type Fault } from '../platform/refusal';
import { timestamp, UPLOAD_LIMIT } from '../platform/settings';
import { companyState, touchCompany, type CompanyState, companyFor } from '../company/structure';
import { usualSizes } from './usual';
import { habitOf } from './amounts';
import { amountsIn, guessOptions, readSheet, type FeedOptions } from './columns';
import { stage, type Staged } from './stage';
import * as stored from '../platform/db/stored';
import { asOne, type Context } from '../platform/context';

const SignedRun = FeedRunRow.extend({ name: stored.text });

export type { FeedOptions } from './columns';

export interface AccountTotal {
	code: string;
	name: string;
	/** Planning account; null while unmapped. */
	account: string | null;
	accountName: string;
	isNew: boolean;
	entries: number;
	/** Debit positive. */
	amounts: Amounts;
	suggestion: Suggestion | null;
}

export interface UnusualEntry {
	row: number;
	date: string;
	ledgerAccount: string;
	party: string;
	document: string;
	amount: number;
	low: number;
	high: number;
}

export interface FeedPreview {
	file: string;
	heading: string[];
	sample: string[][];
	options: FeedOptions;
	rows: number;
	month: number | null;
	/** An amount of which it has to be said what its sign means; null where others settle it. */
	doubtful: string | null;
	months: { period: number; entries: number }[];
	closed: boolean;
	/** Entries of that month already loaded, which a run replaces. */
	replaces: number;
	faults: Fault[];
	faultCount: number;
	accounts: AccountTotal[];
	/** By the currencies of the departments, as all sums of amounts. */
	total: Amounts;
	mapped: Amounts;
	unmapped: Amounts;
	debits: number;
	unusual: UnusualEntry[];
}

const MOST_FAULTS = 200;

function checkSize(file: string, content: string) {
	if (content.length > UPLOAD_LIMIT)
		throw new Refusal(413, `${file} is larger than ${UPLOAD_LIMIT / 1024 / 1024} MB. Split it by month.`);
}

/** Shows what a file would do; changes nothing. Options that are not given are recognised from the file. */
export async function previewFeed(
	context: Context,
	file: string,
	content: string,
	given: FeedOptions | null,
	map: Readonly<Record<string, string | null>>
): Promise<FeedPreview> {
	const { db } = context;
	const state = await companyFor(context, 'run feeds');
	checkSize(file, content);
	const sheet = readSheet(file, content);
	const options = given ?? guessOptions(sheet, state.structure);
	const first = stage(file, sheet, options, state, null);
	const month = [...first.months].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
	// Read again only when the file straddles months, to say so at each row.
	const staged = first.months.size > 1 ? stage(file, sheet, options, state, month) : first;
	const accounts = accountTotals(staged, state, map);
	const sum = (list: readonly AccountTotal[]) => addedUp(list.map((a) => a.amounts));
	const loaded = month === null ? 0 : await entriesIn(db, month);
	return {
		file,
		heading: sheet.heading,
		sample: sheet.body.slice(0, 5),
		options,
		doubtful: habitOf(amountsIn(sheet, options.columns)).doubtful,
		rows: sheet.body.length,
		month,
		months: [...first.months].map(([period, entries]) => ({ period, entries })),
		closed: month !== null && state.closedThrough !== null && month <= state.closedThrough,
		replaces: loaded,
		faults: staged.faults.slice(0, MOST_FAULTS),
		faultCount: staged.faults.length,
		accounts,
		total: sum(accounts),
		mapped: sum(accounts.filter((a) => a.account !== null)),
		unmapped: sum(accounts.filter((a) => a.account === null)),
		debits: cents(staged.entries.reduce((s, e) => s + Math.max(0, e.amount), 0)),
		unusual: await unusualEntries(db, staged, month)
	};
}

/** Sums of cents, without the noise of binary fractions. */
const cents = (v: number) => Math.round(v * 1e4) / 1e4 + 0;

function accountTotals(
	staged: Staged,
	state: CompanyState,
	map: Readonly<Record<string, string | null>>
): AccountTotal[] {
	const { accounts } = state.structure;
	const known = new Map(state.ledgerAccounts.map((l) => [l.code, l]));
	const planning = accounts.all.filter((a) => accounts.isLeaf(a.code));
	const currencyOf = entryCurrency(state.structure, state.ledgerAccounts, map);
	const totals = new Map<string, { entries: number; amounts: Record<string, number>; like: string }>();
	for (const e of staged.entries) {
		const t = totals.get(e.ledgerAccount) ?? { entries: 0, amounts: {}, like: e.description };
		t.entries++;
		const own = currencyOf(e.ledgerAccount, e.department);
		t.amounts[own] = (t.amounts[own] ?? 0) + e.amount;
		totals.set(e.ledgerAccount, t);
	}
	return [...totals]
		.map(([code, { entries, amounts, like }]): AccountTotal => {
			const ledger = known.get(code);
			const account = ownValue(map, code) ?? ledger?.account ?? null;
			const name = ledger?.name ?? staged.names.get(code) ?? '';
			return {
				code,
				name,
				account,
				accountName: account === null ? '' : (accounts.get(account)?.name ?? account),
				isNew: ledger === undefined,
				entries,
				amounts: addedUp([amounts]),
				suggestion:
					account === null
						? suggestAccount({ code, name: name || like }, state.ledgerAccounts, planning)
						: null
			};
		})
		.sort((a, b) => a.code.localeCompare(b.code, 'en', { numeric: true }));
}

/** Entries far above the usual size on their ledger account, judged by the year before. */
async function unusualEntries(
	db: Knex,
	{ entries, rows }: Staged,
	month: number | null
): Promise<UnusualEntry[]> {
	if (month === null) return [];
	const accounts = [...new Set(entries.map((e) => e.ledgerAccount))];
	const usual = await usualSizes(db, await companyState(db), accounts, month);
	return entries.flatMap((e, i) => {
		const u = usual(e.ledgerAccount, e.department);
		return u && isUnusual(e.amount, u)
			? [
					{
						row: rows[i],
						date: e.date,
						ledgerAccount: e.ledgerAccount,
						party: e.party,
						document: e.document,
						amount: e.amount,
						low: u.low,
						high: u.high
					}
				]
			: [];
	});
}

export interface FeedResult {
	period: number;
	entries: number;
	replaced: number;
	mappedNow: number;
}

/**
 * Runs a file: the month's entries are replaced by the file's, all or nothing.
 * @param map planning accounts chosen on the spot, by ledger account
 * @throws Refusal with every fault, or because the month is closed; nothing has changed then
 */
export async function runFeed(
	context: Context,
	file: string,
	content: string,
	options: FeedOptions,
	month: number,
	map: Readonly<Record<string, string | null>>
): Promise<FeedResult> {
	const { user } = context;
	checkSize(file, content);
	const sheet = readSheet(file, content);
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await companyFor(within, 'run feeds');
		const { structure, calendar } = state;
		if (state.closedThrough !== null && month <= state.closedThrough)
			throw new Refusal(
				409,
				`${calendar.longLabel(month)} is closed, so its entries cannot be replaced. Reopen it under Forecast first.`
			);
		const staged = stage(file, sheet, options, state, month);
		if (staged.faults.length)
			throw new Refusal(
				422,
				`${file} was not loaded: ${staged.faults.length} places have to be mended.`,
				staged.faults.slice(0, MOST_FAULTS)
			);
		if (!staged.entries.length) throw new Refusal(422, `${file} has no entries.`);
		for (const [ledger, account] of Object.entries(map))
			if (account !== null && (!structure.accounts.get(account) || !structure.accounts.isLeaf(account)))
				throw new Refusal(422, `“${account}”, chosen for ledger account ${ledger}, takes no figures.`);

		const totals = accountTotals(staged, state, map);
		let position = state.ledgerAccounts.length;
		let mappedNow = 0;
		for (const t of totals) {
			const known = state.ledgerAccounts.find((l) => l.code === t.code);
			if (known && known.account === t.account) continue;
			if (known) await trx('ledger_account').where({ code: t.code }).update({ account: t.account });
			else
				await trx('ledger_account').insert({
					code: t.code,
					name: t.name || `Ledger account ${t.code}`,
					account: t.account,
					position: position++
				});
			if (t.account !== null) {
				mappedNow++;
				await note(trx, [
					{
						user: user.email,
						kind: 'map',
						scenario: '',
						about: { what: 'map', ledgerAccount: t.code },
						before: known?.account ?? '',
						after: t.account,
						why: `While loading ${file}`
					}
				]);
			}
		}
		const replaced = await deleteEntries(trx, month);
		await insertEntries(trx, staged.entries, [...structure.dimensions.keys()]);
		await trx('feed_run').insert({
			at: timestamp(),
			user: user.email,
			file,
			period: month,
			entries: staged.entries.length,
			replaced,
			debits: cents(staged.entries.reduce((s, e) => s + Math.max(0, e.amount), 0)),
			// For the log alone: whether anything is, whatever it counts in.
			unmapped: cents(
				totals
					.filter((t) => t.account === null)
					.flatMap((t) => Object.values(t.amounts))
					.reduce((s, amount) => s + amount, 0)
			)
		});
		await touchCompany(trx);
		return { period: month, entries: staged.entries.length, replaced, mappedNow };
	});
}

export async function listRuns(context: Context) {
	const { db } = context;
	await companyFor(context, 'run feeds');
	return stored.rows(
		SignedRun,
		db('feed_run')
			.leftJoin('user', 'user.email', 'feed_run.user')
			.orderBy('feed_run.id', 'desc')
			.limit(100)
			.select('feed_run.*', db.raw('coalesce(??, ??) as ??', ['user.name', 'feed_run.user', 'name']))
	);
}
