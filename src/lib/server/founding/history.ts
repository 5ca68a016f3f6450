/** What a new company brings with it: a trial balance or ledger entries, from which its own accounts are made. */
import { z } from 'zod';
import type { Calendar, Period } from '../../core/calendar/calendar';
import { layAccounts, ownChart, placesOf, type Laid } from '../../core/company/own-accounts';
import type { Account, Department, LedgerAccount } from '../../core/company/schema';
import type { HistoryPreview } from '../../core/company/history';
import { isBalance } from '../../core/company/sign';
import { buildStructure, type Structure } from '../../core/company/structure';
import { blockingOf } from '../../core/inputs/combinations';
import { spread } from '../../core/inputs/spread';
import { ownValue } from '../../core/text';
import type { Entry } from '../company/subjects/entries';
import { habitOf } from '../ledger/amounts';
import { AMOUNTS, amountsIn, guessOptions, normal, readSheet, type Sheet } from '../ledger/columns';
import { stage } from '../ledger/stage';
import { Refusal, type Fault } from '../platform/refusal';
import { ledgerSpan, today } from '../platform/settings';

/** Characters of a file; a longer ledger is loaded month by month when the company stands. */
export const MOST_HISTORY = 8_000_000;
const MOST_ACCOUNTS = 5000;
const MOST_FAULTS = 200;

export const History = z.strictObject({
	file: z.string().max(200).default('the list'),
	/** A table as text: comma, semicolon, tab or bar between its cells. */
	content: z.string().min(1).max(MOST_HISTORY),
	/** The last period that a trial balance covers, in the calendar's writing; a ledger's entries have dates. */
	through: z.string().max(20),
	/** Where figures stand that name no department; null is a department of their own. */
	department: z.string().max(64).nullable().default(null),
	/** Where the amounts themselves do not tell. */
	decimal: z.enum(['.', ',']).nullable().default(null),
	/** Places of the chart that were chosen, by ledger account. */
	places: z.record(z.string().max(64), z.string().max(140)).default({})
});
export type History = z.output<typeof History>;

/** The department of what names none. */
const NOT_DIVIDED = { code: 'not-divided', name: 'Not divided' };

export interface HistoryRead {
	kind: 'balance' | 'ledger';
	/** As the file has them; a trial balance's at the last day that it covers. */
	entries: Entry[];
	accounts: Laid[];
	/** Rows of totals. */
	leftOut: number;
	faults: Fault[];
	/** An amount such as 1,234 of which the file does not tell what its sign means. */
	doubtful: string | null;
	decimal: '.' | ',';
	through: Period;
	/** Departments, with one of its own where one was needed. */
	departments: Department[];
}

/** Headings that say so in a list of accounts alone. */
const PLAINER: [field: string, headings: string[]][] = [
	['ledger_account', ['code', 'no', 'nr', 'number', 'nominal', 'ledger code', 'ledger', 'account id']],
	['ledger_account_name', ['name', 'account description', 'description', 'text', 'title']],
	['amount', ['balance', 'closing balance', 'net', 'net balance', 'total']]
];
const PLAIN = new Set(PLAINER.flatMap(([, headings]) => headings));
const TOTALS = /^(grand |sub)?totals?$/i;
const CODE_AND_NAME = /^([A-Za-z0-9][\w.-]*)[\s:–-]+(\S.*)$/;

/**
 * Reads what was brought, and lays its accounts under the chart's headings.
 * @throws Refusal 422 when it is no table, or `through` no period that has ended
 */
export function readHistory(
	history: History,
	calendar: Calendar,
	chart: readonly Account[],
	departments: readonly Department[]
): HistoryRead {
	const { file, content, places } = history;
	const through = throughOf(history, calendar);
	const { sheet, leftOut } = withoutTotals(readSheet(file, content, PLAIN));
	const before = buildStructure(calendar, chart, departments, [], '');
	const guessed = guessOptions(sheet, before);
	for (const [field, headings] of PLAINER) {
		const at = sheet.heading.findIndex(
			(h, i) => headings.includes(normal(h)) && !Object.values(guessed.columns).includes(i)
		);
		const has = field === 'amount' ? AMOUNTS.some((f) => f in guessed.columns) : field in guessed.columns;
		if (!has && at >= 0) guessed.columns[field] = at;
	}
	const columns = namesSplit(sheet, guessed.columns);
	const habit = habitOf(amountsIn(sheet, columns));
	const decimal = habit.decimal ?? history.decimal ?? guessed.decimal;
	const dated = 'date' in columns;
	const own = 'department' in columns ? departments : withPlace(departments, history.department, before);
	const structure = own === departments ? before : buildStructure(calendar, chart, own, [], '');
	const staged = stage(
		file,
		sheet,
		{ ...guessed, columns, decimal },
		{ structure, calendar, blocking: blockingOf([], structure) },
		null,
		{
			date: calendar.lastDay(through),
			department: history.department ?? (own === departments ? own[0].code : NOT_DIVIDED.code)
		}
	);
	const faults = [...staged.faults];
	const amounts = new Map<string, number>();
	for (const e of staged.entries)
		amounts.set(e.ledgerAccount, (amounts.get(e.ledgerAccount) ?? 0) + e.amount);
	if (amounts.size > MOST_ACCOUNTS)
		faults.unshift({ file, message: `has ${amounts.size} accounts; at most ${MOST_ACCOUNTS} are taken` });
	const laid = layAccounts(
		chart,
		[...amounts].map(([code, amount]) => ({
			code,
			name: staged.names.get(code) ?? `Ledger account ${code}`,
			amount: cents(amount)
		}))
	);
	const known = new Set(placesOf(chart).map((p) => p.key));
	return {
		kind: dated ? 'ledger' : 'balance',
		entries: staged.entries,
		accounts: laid.map((line) => {
			const place = ownValue(places, line.code);
			return place !== undefined && known.has(place) ? { ...line, place } : line;
		}),
		leftOut,
		faults,
		doubtful: habit.doubtful,
		decimal,
		through: dated ? lastEnded(staged.entries, calendar) : through,
		departments: [...own]
	};
}

/** Sums of cents, without the noise of binary fractions. */
const cents = (v: number) => Math.round(v * 1e4) / 1e4 + 0;

function throughOf({ through }: History, calendar: Calendar): Period {
	const period = calendar.parse(through);
	const { from } = ledgerSpan(calendar);
	if (period === null || period < from || calendar.lastDay(period) >= today())
		throw new Refusal(422, 'What was brought cannot be read yet.', [
			{
				column: 'through',
				message: `“${through}” is no ${calendar.words.one} that has ended; one such as ${calendar.key(calendar.periodOf(today())! - 1)} was expected`
			}
		]);
	return period;
}

/** The last period of the entries that has ended; what comes after it stays open. */
function lastEnded(entries: readonly Entry[], calendar: Calendar): Period {
	const now = calendar.periodOf(today())!;
	return entries.reduce((last, e) => (e.period < now && e.period > last ? e.period : last), -1);
}

/** The rows without those that sum others up, which a trial balance usually ends with. */
function withoutTotals(sheet: Sheet): { sheet: Sheet; leftOut: number } {
	const isTotal = (record: readonly string[]) => {
		const first = record.map((text) => text.trim()).find((text) => text !== '') ?? '';
		return TOTALS.test(first);
	};
	const stay = sheet.body.map((record) => !isTotal(record));
	return {
		sheet: {
			heading: sheet.heading,
			body: sheet.body.filter((_, i) => stay[i]),
			rows: sheet.rows.filter((_, i) => stay[i])
		},
		leftOut: stay.filter((s) => !s).length
	};
}

/** Where one column holds code and name, as “1020 Bank”, it becomes two. */
function namesSplit(sheet: Sheet, columns: Record<string, number>): Record<string, number> {
	const at = columns.ledger_account;
	if (at === undefined || 'ledger_account_name' in columns) return columns;
	const split = sheet.body.map((record) => CODE_AND_NAME.exec((record[at] ?? '').trim()));
	if (!split.length || !split.every(Boolean)) return columns;
	sheet.body.forEach((record, i) => {
		record[at] = split[i]![1];
		record.push(split[i]![2]);
	});
	sheet.heading = [...sheet.heading, 'Account name'];
	return { ...columns, ledger_account_name: sheet.heading.length - 1 };
}

/** The departments with a place for what names none: the only one, the chosen one, or one of its own. */
function withPlace(
	departments: readonly Department[],
	chosen: string | null,
	{ departmentRow, departmentRows }: Structure
): readonly Department[] {
	if (chosen !== null && !departmentRow.has(chosen))
		throw new Refusal(422, 'What was brought has no place.', [
			{ column: 'department', message: `“${chosen}” is no department that takes figures` }
		]);
	if (chosen !== null || departmentRows.length === 1) return departments;
	const [root] = departments;
	return [...departments, { ...NOT_DIVIDED, parent: root.code, entity: root.entity }];
}

/** What is shown before it is taken. */
export function previewOf(read: HistoryRead, calendar: Calendar, chart: readonly Account[]): HistoryPreview {
	const { kind, accounts, leftOut, faults, doubtful, decimal, entries, through } = read;
	const sum = (sign: 1 | -1) => cents(accounts.reduce((s, a) => s + Math.max(0, sign * a.amount), 0));
	const periods = entries.map((e) => e.period);
	const first = kind === 'balance' ? calendar.yearStart(calendar.fiscalYear(through)) : lowest(periods);
	const last = kind === 'balance' ? through : -lowest(periods.map((p) => -p));
	return {
		kind,
		accounts,
		leftOut,
		faults: faults.slice(0, MOST_FAULTS),
		faultCount: faults.length,
		doubtful,
		decimal,
		places: placesOf(chart),
		rows: entries.length,
		debits: sum(1),
		credits: sum(-1),
		covers: entries.length ? `${calendar.longLabel(first)} to ${calendar.longLabel(last)}` : ''
	};
}
const lowest = (list: readonly number[]) => list.reduce((a, b) => Math.min(a, b), Infinity);

/** What becomes of it in the company. */
export interface Brought {
	accounts: Account[];
	ledgerAccounts: (LedgerAccount & { account: string })[];
	entries: Entry[];
	departments: Department[];
	closedThrough: Period | null;
}

/**
 * Own accounts one to one, and entries for them. A trial balance's flows are divided evenly over the periods of its year
 * up to the one it covers, and sum exactly to its amounts; balances stand at the end.
 * @param decimals of the currency
 * @throws Refusal 422 with every fault
 */
export function broughtOf(
	read: HistoryRead,
	calendar: Calendar,
	chart: readonly Account[],
	decimals: number
): Brought {
	if (read.faults.length)
		throw new Refusal(
			422,
			`What was brought cannot be taken: ${read.faults.length} places have to be mended.`,
			read.faults.slice(0, MOST_FAULTS)
		);
	if (!read.entries.length)
		throw new Refusal(422, 'What was brought has no figures.', [
			{ column: 'history', message: 'has no rows' }
		]);
	const { accounts, accountOf } = ownChart(chart, read.accounts);
	const types = new Map(accounts.map((a) => [a.code, a.type]));
	const divided = (e: Entry): Entry[] => {
		if (isBalance(types.get(accountOf.get(e.ledgerAccount)!)!)) return [e];
		const first = calendar.yearStart(calendar.fiscalYear(e.period));
		const periods = Array.from({ length: e.period - first + 1 }, (_, i) => first + i);
		const parts = spread(
			periods.map(() => ({ value: null, held: false })),
			e.amount,
			{ kind: 'evenly' },
			Math.max(decimals, decimalsIn(e.amount))
		);
		if (!parts.ok) throw new Error(parts.message);
		return parts.values.map((amount, i) => ({
			...e,
			amount,
			period: periods[i],
			date: calendar.lastDay(periods[i])
		}));
	};
	const names = new Map(read.accounts.map((a) => [a.code, a.name]));
	const entries =
		read.kind === 'ledger'
			? read.entries
			: read.entries.flatMap((e) =>
					divided({ ...e, document: 'Trial balance', party: '', description: names.get(e.ledgerAccount)! })
				);
	return {
		accounts,
		ledgerAccounts: read.accounts.map(({ code, name }) => ({ code, name, account: accountOf.get(code)! })),
		entries: entries.sort((a, b) => a.period - b.period),
		departments: read.departments,
		closedThrough: read.through < 0 ? null : read.through
	};
}

/** Decimals that an amount is written with, up to 6. */
const decimalsIn = (amount: number) => Math.min(6, /\.(\d+)$/.exec(String(amount))?.[1].length ?? 0);
