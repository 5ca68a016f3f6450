/** The ledger feed: reading a month's file, showing what it would do, and running it, all or nothing. */
import type { Knex } from 'knex';
import { parse } from 'csv-parse/sync';
import { isUnusual } from '../core/compare/unusual';
import { suggestAccount, type Suggestion } from '../core/model/suggest';
import { mustMay } from './auth/policy';
import type { User } from './auth/sessions';
import type { Entry } from './company/data';
import { ENTRY_COLUMNS, entryRow, totalEntries } from './company/store';
import { insertMany } from './db/bulk';
import { note } from './journal';
import { Refusal, type Fault } from './refusal';
import { companyState, touchCompany, type CompanyState } from './structure';
import { UPLOAD_LIMIT } from './settings';
import { usualSizes } from './usual';

/** What a column of the file can be; dimensions come on top, by their code. */
export const FEED_FIELDS = [
	'date',
	'ledger_account',
	'ledger_account_name',
	'department',
	'amount',
	'debit',
	'credit',
	'document',
	'party',
	'description'
] as const;
export type FeedField = (typeof FEED_FIELDS)[number];

export interface FeedOptions {
	/** Field or dimension → column index; fields that the file lacks are absent. */
	columns: Record<string, number>;
	decimal: '.' | ',';
	dates: 'year-first' | 'day-first' | 'month-first';
	/** Whether a positive amount is a debit or a credit. */
	positive: 'debit' | 'credit';
}

/** Headings by which a column is recognised, in lower case without punctuation. */
const HEADINGS: Record<FeedField, string[]> = {
	date: ['date', 'posting date', 'booking date', 'transaction date', 'entry date'],
	ledger_account: [
		'ledger account',
		'account',
		'account code',
		'account number',
		'nominal code',
		'account no'
	],
	ledger_account_name: ['account name', 'ledger account name', 'nominal name'],
	department: ['department', 'department code', 'dept', 'cost centre', 'cost center'],
	amount: ['amount', 'net amount', 'value'],
	debit: ['debit', 'debit amount', 'dr'],
	credit: ['credit', 'credit amount', 'cr'],
	document: ['document', 'document number', 'voucher', 'reference', 'invoice', 'document no'],
	party: ['party', 'supplier', 'counterparty', 'customer name', 'vendor'],
	description: ['description', 'text', 'details', 'memo', 'narrative']
};

const normal = (heading: string) =>
	heading
		.toLowerCase()
		.replace(/[^\p{L}\p{N}]+/gu, ' ')
		.trim();

interface Sheet {
	heading: string[];
	body: string[][];
}

function readSheet(file: string, content: string): Sheet {
	const firstLine = content.slice(0, content.search(/[\r\n]/) >>> 0);
	const delimiter = [',', ';', '\t', '|']
		.map((d) => ({ d, n: firstLine.split(d).length }))
		.sort((a, b) => b.n - a.n)[0].d;
	try {
		const [heading, ...body] = parse(content, {
			bom: true,
			delimiter,
			relax_column_count: true,
			skip_empty_lines: true
		}) as string[][];
		if (!heading) throw new Refusal(422, `${file} is empty.`);
		return { heading, body };
	} catch (e) {
		if (e instanceof Refusal) throw e;
		const at = e as { message: string; lines?: number };
		throw new Refusal(422, `${file} cannot be read as CSV.`, [{ file, row: at.lines, message: at.message }]);
	}
}

function guessColumns(heading: readonly string[], state: CompanyState): Record<string, number> {
	const columns: Record<string, number> = {};
	const names = heading.map(normal);
	for (const field of FEED_FIELDS) {
		const at = HEADINGS[field].map((h) => names.indexOf(h)).find((i) => i >= 0);
		if (at !== undefined && !Object.values(columns).includes(at)) columns[field] = at;
	}
	for (const [code, { dimension }] of state.structure.dimensions) {
		const at = [code, dimension.name].map((n) => names.indexOf(normal(n))).find((i) => i >= 0);
		if (at !== undefined && !Object.values(columns).includes(at)) columns[code] = at;
	}
	return columns;
}

function guessOptions(sheet: Sheet, state: CompanyState): FeedOptions {
	const columns = guessColumns(sheet.heading, state);
	const sample = sheet.body.slice(0, 500);
	const values = (field: string) =>
		columns[field] === undefined ? [] : sample.map((r) => r[columns[field]] ?? '');
	const amounts = ['amount', 'debit', 'credit'].flatMap(values);
	const comma = amounts.filter((a) => /,\d{1,2}\)?$/.test(a.trim())).length;
	const point = amounts.filter((a) => /\.\d{1,2}\)?$/.test(a.trim())).length;
	const dates = values('date');
	const firstParts = dates.map((d) => Number(/^(\d{1,2})[./-]/.exec(d)?.[1] ?? 0));
	const yearFirst = dates.filter((d) => /^\d{4}/.test(d)).length * 2 >= dates.length;
	const secondParts = dates.map((d) => Number(/^\d{1,2}[./-](\d{1,2})/.exec(d)?.[1] ?? 0));
	return {
		columns,
		decimal: comma > point ? ',' : '.',
		dates: yearFirst
			? 'year-first'
			: Math.max(...secondParts, 0) > 12 && Math.max(...firstParts, 0) <= 12
				? 'month-first'
				: 'day-first',
		positive: 'debit'
	};
}

function readAmount(text: string, decimal: '.' | ','): number | null {
	let t = text.trim().replace(/[\s\u00a0']/g, '');
	const negative = /^\(.*\)$/.test(t) || /-$/.test(t);
	t = t.replace(/^\(|\)$|-$/g, '');
	t = decimal === ',' ? t.replaceAll('.', '').replace(',', '.') : t.replaceAll(',', '');
	if (!/^[+-]?(\d+\.?\d*|\.\d+)$/.test(t)) return null;
	return negative ? -Number(t) : Number(t);
}

function readDate(text: string, style: FeedOptions['dates']): string | null {
	const m = /^(\d{1,4})[./-](\d{1,2})[./-](\d{1,4})$/.exec(text.trim().slice(0, 10));
	if (!m) return null;
	const [a, b, c] = [m[1], m[2], m[3]];
	const [y, mo, d] = style === 'year-first' ? [a, b, c] : style === 'day-first' ? [c, b, a] : [c, a, b];
	if (y.length !== 4) return null;
	return `${y}-${mo.padStart(2, '0')}-${d.padStart(2, '0')}`;
}

interface Staged {
	entries: Entry[];
	/** Names of ledger accounts as far as the file has them. */
	names: Map<string, string>;
	faults: Fault[];
	/** Entries by month. */
	months: Map<number, number>;
}

/** Reads every row; what cannot be read is a fault with row and column. */
function stage(
	file: string,
	sheet: Sheet,
	options: FeedOptions,
	state: CompanyState,
	month: number | null
): Staged {
	const { structure, calendar } = state;
	const faults: Fault[] = [];
	const { columns } = options;
	const headingOf = (field: string) => sheet.heading[columns[field]] ?? field;
	const needed = ['date', 'ledger_account', 'department'].filter((f) => columns[f] === undefined);
	if (columns.amount === undefined && columns.debit === undefined && columns.credit === undefined)
		needed.push('amount');
	for (const field of needed)
		faults.push({
			file,
			row: 1,
			message: `No column was recognised for “${field.replace('_', ' ')}”. Its headings are: ${sheet.heading.join(', ')}. Choose the column above.`
		});
	const result: Staged = { entries: [], names: new Map(), faults, months: new Map() };
	if (needed.length) return result;

	const departmentOf = new Map<string, string>();
	for (const d of structure.departmentRows) {
		departmentOf.set(d.name.toLowerCase(), d.code);
		departmentOf.set(d.code.toLowerCase(), d.code);
	}
	const memberOf = new Map<string, Map<string, string>>();
	for (const [code, { dimension }] of structure.dimensions) {
		if (columns[code] === undefined) continue;
		const map = new Map<string, string>();
		for (const m of dimension.members) {
			map.set(m.name.toLowerCase(), m.code);
			map.set(m.code.toLowerCase(), m.code);
		}
		memberOf.set(code, map);
	}
	const at = (record: string[], field: string) =>
		columns[field] === undefined ? '' : (record[columns[field]] ?? '').trim();
	const monthOfDate = new Map<string, number | null>();

	sheet.body.forEach((record, i) => {
		const row = i + 2;
		const before = faults.length;
		const fault = (field: string, message: string) =>
			faults.push({ file, row, column: headingOf(field), message });
		if (record.length !== sheet.heading.length) {
			faults.push({
				file,
				row,
				message: `has ${record.length} cells; ${sheet.heading.length} were expected`
			});
			return;
		}
		const dateText = at(record, 'date');
		const date = readDate(dateText, options.dates);
		if (date !== null && !monthOfDate.has(date)) monthOfDate.set(date, calendar.periodOf(date));
		const period = date === null ? null : (monthOfDate.get(date) ?? null);
		if (period === null)
			fault('date', `“${dateText}” is no date; one like ${DATE_EXAMPLE[options.dates]} was expected`);
		else if (month !== null && period !== month)
			fault('date', `${date} does not lie in ${calendar.longLabel(month)}; a file holds one month`);
		const ledgerAccount = at(record, 'ledger_account');
		if (!/^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$/.test(ledgerAccount))
			fault('ledger_account', `“${ledgerAccount}” is no ledger account code`);
		const departmentText = at(record, 'department');
		const department = departmentOf.get(departmentText.toLowerCase());
		if (department === undefined) {
			const group = structure.departments.all.find(
				(d) => d.code === departmentText || d.name === departmentText
			);
			fault(
				'department',
				group
					? `“${departmentText}” is a sum of departments; post to one of ${structure.departments
							.leaves(group.code)
							.map((d) => d.code)
							.join(', ')}`
					: `there is no department “${departmentText}”`
			);
		}
		let amount: number | null = 0;
		for (const [field, sign] of [
			['amount', options.positive === 'debit' ? 1 : -1],
			['debit', 1],
			['credit', -1]
		] as const) {
			if (columns[field] === undefined) continue;
			const text = at(record, field);
			if (text === '' && field !== 'amount') continue;
			const value = readAmount(text, options.decimal);
			if (value === null) {
				fault(
					field,
					`“${text}” is no number; one like ${options.decimal === ',' ? '1.234,56' : '1,234.56'} was expected`
				);
				amount = null;
			} else if (amount !== null) amount += sign * value;
		}
		const tags: Record<string, string> = {};
		for (const [code, members] of memberOf) {
			const text = at(record, code);
			if (text === '') continue;
			const member = members.get(text.toLowerCase());
			if (member === undefined)
				fault(code, `there is no ${structure.dimensions.get(code)!.dimension.name.toLowerCase()} “${text}”`);
			else tags[code] = member;
		}
		if (period !== null) result.months.set(period, (result.months.get(period) ?? 0) + 1);
		if (faults.length > before) return;
		const name = at(record, 'ledger_account_name');
		if (name) result.names.set(ledgerAccount, name);
		result.entries.push({
			period: period!,
			date: date!,
			ledgerAccount,
			department: department!,
			amount: amount!,
			document: at(record, 'document'),
			party: at(record, 'party'),
			description: at(record, 'description'),
			tags
		});
	});
	return result;
}

const DATE_EXAMPLE = { 'year-first': '2026-10-31', 'day-first': '31/10/2026', 'month-first': '10/31/2026' };

export interface AccountTotal {
	code: string;
	name: string;
	/** Planning account; null while unmapped. */
	account: string | null;
	accountName: string;
	isNew: boolean;
	entries: number;
	/** Debit positive. */
	amount: number;
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
	months: { period: number; entries: number }[];
	closed: boolean;
	/** Entries of that month already loaded, which a run replaces. */
	replaces: number;
	faults: Fault[];
	faultCount: number;
	accounts: AccountTotal[];
	total: number;
	mapped: number;
	unmapped: number;
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
	db: Knex,
	user: User,
	file: string,
	content: string,
	given: FeedOptions | null,
	map: Readonly<Record<string, string | null>>
): Promise<FeedPreview> {
	const state = await companyState(db);
	mustMay(user, 'run feeds', state.structure.departments);
	checkSize(file, content);
	const sheet = readSheet(file, content);
	const options = given ?? guessOptions(sheet, state);
	const first = stage(file, sheet, options, state, null);
	const month = [...first.months].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
	// Read again only when the file straddles months, to say so at each row.
	const staged = first.months.size > 1 ? stage(file, sheet, options, state, month) : first;
	const accounts = accountTotals(staged, state, map);
	const sum = (list: readonly AccountTotal[]) => cents(list.reduce((s, a) => s + a.amount, 0));
	const { n } = (await db('ledger_entry')
		.where({ period: month ?? -1 })
		.count({ n: '*' })
		.first()) as { n: number };
	return {
		file,
		heading: sheet.heading,
		sample: sheet.body.slice(0, 5),
		options,
		rows: sheet.body.length,
		month,
		months: [...first.months].map(([period, entries]) => ({ period, entries })),
		closed: month !== null && state.closedThrough !== null && month <= state.closedThrough,
		replaces: n,
		faults: staged.faults.slice(0, MOST_FAULTS),
		faultCount: staged.faults.length,
		accounts,
		total: sum(accounts),
		mapped: sum(accounts.filter((a) => a.account !== null)),
		unmapped: sum(accounts.filter((a) => a.account === null)),
		debits: cents(staged.entries.reduce((s, e) => s + Math.max(0, e.amount), 0)),
		unusual: await unusualEntries(db, staged.entries, month)
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
	const totals = new Map<string, { entries: number; amount: number; like: string }>();
	for (const e of staged.entries) {
		const t = totals.get(e.ledgerAccount) ?? { entries: 0, amount: 0, like: e.description };
		t.entries++;
		t.amount += e.amount;
		totals.set(e.ledgerAccount, t);
	}
	return [...totals]
		.map(([code, { entries, amount, like }]): AccountTotal => {
			const ledger = known.get(code);
			const account = map[code] ?? ledger?.account ?? null;
			const name = ledger?.name ?? staged.names.get(code) ?? '';
			return {
				code,
				name,
				account,
				accountName: account === null ? '' : (accounts.get(account)?.name ?? account),
				isNew: ledger === undefined,
				entries,
				amount: cents(amount),
				suggestion:
					account === null
						? suggestAccount({ code, name: name || like }, state.ledgerAccounts, planning)
						: null
			};
		})
		.sort((a, b) => a.code.localeCompare(b.code, 'en', { numeric: true }));
}

/** Entries far above the usual size on their ledger account, judged by the twelve months before. */
async function unusualEntries(
	db: Knex,
	entries: readonly Entry[],
	month: number | null
): Promise<UnusualEntry[]> {
	if (month === null) return [];
	const usual = await usualSizes(db, [...new Set(entries.map((e) => e.ledgerAccount))], month);
	return entries.flatMap((e, i) => {
		const u = usual(e.ledgerAccount, e.department);
		return u && isUnusual(e.amount, u)
			? [
					{
						row: i + 2,
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
	db: Knex,
	user: User,
	file: string,
	content: string,
	options: FeedOptions,
	month: number,
	map: Readonly<Record<string, string | null>>
): Promise<FeedResult> {
	checkSize(file, content);
	const sheet = readSheet(file, content);
	return db.transaction(async (trx) => {
		const state = await companyState(trx);
		const { structure, calendar } = state;
		mustMay(user, 'run feeds', structure.departments);
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
						subject: `map/${t.code}`,
						before: known?.account ?? '',
						after: t.account,
						why: `While loading ${file}`
					}
				]);
			}
		}
		const replaced = await trx('ledger_entry').where({ period: month }).delete();
		const dimensions = [...structure.dimensions.keys()];
		await insertMany(
			trx,
			'ledger_entry',
			ENTRY_COLUMNS,
			staged.entries.map((e) => entryRow(e, dimensions))
		);
		await totalEntries(trx, month);
		const sum = (list: readonly AccountTotal[]) => cents(list.reduce((s, a) => s + a.amount, 0));
		await trx('feed_run').insert({
			at: new Date().toISOString(),
			user: user.email,
			file,
			period: month,
			entries: staged.entries.length,
			replaced,
			debits: cents(staged.entries.reduce((s, e) => s + Math.max(0, e.amount), 0)),
			unmapped: sum(totals.filter((t) => t.account === null))
		});
		await touchCompany(trx);
		return { period: month, entries: staged.entries.length, replaced, mappedNow };
	});
}

export async function listRuns(db: Knex, user: User) {
	const { structure } = await companyState(db);
	mustMay(user, 'run feeds', structure.departments);
	return (await db('feed_run')
		.leftJoin('user', 'user.email', 'feed_run.user')
		.orderBy('feed_run.id', 'desc')
		.limit(100)
		.select('feed_run.*', db.raw('coalesce(??, ??) as ??', ['user.name', 'feed_run.user', 'name']))) as {
		id: number;
		at: string;
		name: string;
		file: string;
		period: number;
		entries: number;
		replaced: number;
		debits: number;
		unmapped: number;
	}[];
}
