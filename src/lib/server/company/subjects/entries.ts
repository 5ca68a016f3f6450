/** Entries of the general ledger, a file a period. */
import type { Knex } from 'knex';
import { ownValue } from '../../../core/text';
import { insertMany } from '../../platform/db/bulk';
import { keepLedgerMonths } from '../ledger-months';
import { ledgerSpan } from '../../platform/settings';
import type { Reading } from '../reading';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import * as cell from '../table';
import { writeTable } from '../table';
import { CLOSED_THROUGH } from './company';
import { DIMENSIONS, structureOf, takesFigures } from './dimensions';
import { LEDGER_ACCOUNTS } from './ledger-accounts';
import { treeOf } from '../../../core/company/structure';
import * as stored from '../../platform/db/stored';

/** One ledger entry: debit positive. */
export interface Entry {
	period: number;
	date: string;
	ledgerAccount: string;
	department: string;
	amount: number;
	document: string;
	party: string;
	description: string;
	/** Dimension → member. */
	tags: Record<string, string>;
}

/** Tags as stored: `product=kay-12;region=lakes`, in the order of the company's dimensions. */
export function tagsToText(tags: Record<string, string>, dimensions: readonly string[]): string {
	return dimensions
		.flatMap((d) => {
			const member = ownValue(tags, d);
			return member ? [`${d}=${member}`] : [];
		})
		.join(';');
}
export function tagsFromText(text: string): Record<string, string> {
	return text === '' ? {} : Object.fromEntries(text.split(';').map((t) => t.split('=') as [string, string]));
}

const FOLDER = 'ledger/';
const FORM = tableForm({
	path: `${FOLDER}<period>.csv`,
	columns: {
		date: cell.isoDate,
		ledger_account: cell.required,
		department: cell.required,
		amount: cell.decimal,
		document: cell.foreign,
		party: cell.foreign,
		description: cell.foreign
	},
	notes: { amount: 'debit positive' },
	says: 'and a column per dimension'
});
const periodOfLedger = cell.periodWithin(ledgerSpan);

export const ENTRIES: Subject<'entries', Entry[]> = {
	name: 'entries',
	files: [FORM],
	read(folder) {
		const files = [...folder.files.keys()].filter((f) => f.startsWith(FOLDER)).sort();
		const entries = files.flatMap((file) => readPeriod(folder, file));
		const closed = folder.of(CLOSED_THROUGH);
		folder.expect(
			closed === null || closed <= lastOf(entries),
			'company.json',
			undefined,
			'closedThrough',
			`no ledger ${folder.calendar.words.one} so late is there to be closed`
		);
		return entries;
	},
	write(entries, folder) {
		const dimensions = folder.of(DIMENSIONS).map((d) => d.code);
		const months = new Map<number, Entry[]>();
		for (const e of entries) {
			const month = months.get(e.period);
			if (month) month.push(e);
			else months.set(e.period, [e]);
		}
		for (const [period, own] of [...months].sort((a, b) => a[0] - b[0]))
			folder.files.set(`${FOLDER}${folder.calendar.key(period)}.csv`, writeEntries(own, dimensions));
	},
	async store(trx, entries, company) {
		const dimensions = company.of(DIMENSIONS).map((d) => d.code);
		await insertEntries(trx, entries, dimensions);
	},
	load: async (db) =>
		(await readEntries(db('ledger_entry').orderBy('id'))).map((e) => ({
			period: e.period,
			date: e.date,
			ledgerAccount: e.ledger_account,
			department: e.department,
			amount: e.amount,
			document: e.document,
			party: e.party,
			description: e.description,
			tags: tagsFromText(e.tags)
		}))
};

/** Entries as they are kept, of a query over them. */
export const readEntries = (query: PromiseLike<unknown>) =>
	stored.many(
		{
			period: 'number',
			date: 'text',
			ledger_account: 'text',
			department: 'text',
			amount: 'number',
			document: 'text',
			party: 'text',
			description: 'text',
			tags: 'text'
		},
		query
	);

/** How many entries a period has. */
export const entriesIn = async (db: Knex, period: number): Promise<number> =>
	(await stored.one(stored.counted, db('ledger_entry').where({ period }).count({ n: '*' }).first())).n;

/** The last period with entries; −1 without any. */
export const lastOf = (entries: readonly Entry[]): number =>
	entries.reduce((last, e) => Math.max(last, e.period), -1);

function readPeriod(folder: Reading, file: string): Entry[] {
	const { calendar } = folder;
	const structure = structureOf(folder);
	const ledgerAccounts = new Set(folder.of(LEDGER_ACCOUNTS).map((l) => l.code));
	const dimensions = folder.of(DIMENSIONS).map((d) => d.code);
	const name = file.slice(FOLDER.length, -'.csv'.length);
	let period: number;
	try {
		period = periodOfLedger(name, calendar);
	} catch (expected) {
		folder.faults.push({ file, column: 'name', message: `“${name}” was found; ${expected} was expected` });
		return [];
	}
	return folder.table(FORM, file, { more: dimensions }).map((r) => {
		const expect = (good: boolean, column: string, message: string) =>
			folder.expect(good, file, r.rowNumber, column, message);
		expect(
			calendar.periodOf(r.date) === period,
			'date',
			`${r.date} does not lie in the file’s ${calendar.words.one}`
		);
		expect(
			ledgerAccounts.has(r.ledger_account),
			'ledger_account',
			`“${r.ledger_account}” is not in ledger-accounts.csv`
		);
		expect(
			takesFigures(structure, r.department),
			'department',
			`“${r.department}” is no department that takes figures`
		);
		const tags: Record<string, string> = {};
		for (const d of dimensions) {
			const member = ownValue(r.more, d);
			if (!member) continue;
			tags[d] = member;
			expect(treeOf(structure, d)?.get(member) !== undefined, d, `there is no ${d} “${member}”`);
		}
		const { date, department, amount, document, party, description } = r;
		return {
			period,
			date,
			ledgerAccount: r.ledger_account,
			department,
			amount,
			document,
			party,
			description,
			tags
		};
	});
}

/** What an entry says, in the order of the file's and the table's columns. */
const saidOf = (e: Entry) => [
	e.date,
	e.ledgerAccount,
	e.department,
	e.amount,
	e.document,
	e.party,
	e.description
];

/** Ledger entries as a table; also the form of a month's file for the feed. */
export const writeEntries = (entries: readonly Entry[], dimensions: readonly string[]): string =>
	writeTable(
		[...Object.keys(FORM.columns), ...dimensions],
		entries.map((e) => [...saidOf(e), ...dimensions.map((d) => ownValue(e.tags, d) ?? '')])
	);

const COLUMNS = [
	'period',
	'date',
	'ledger_account',
	'department',
	'amount',
	'document',
	'party',
	'description',
	'tags'
] as const;

/** Writes entries of periods that have none yet, and what they come to. */
export async function insertEntries(
	trx: Knex.Transaction,
	entries: readonly Entry[],
	dimensions: readonly string[]
): Promise<void> {
	const tags = entries.map((e) => tagsToText(e.tags, dimensions));
	await insertMany(
		trx,
		'ledger_entry',
		COLUMNS,
		mapped(entries, (e, i) => [e.period, ...saidOf(e), tags[i]])
	);
	await keepLedgerMonths(
		trx,
		mapped(entries, ({ period, ledgerAccount, department, amount }, i) => ({
			period,
			ledgerAccount,
			department,
			amount,
			tags: tags[i]
		}))
	);
}

/** One after the other: of a million rows none has to be kept. */
function* mapped<T, R>(list: readonly T[], each: (item: T, i: number) => R): Iterable<R> {
	for (const [i, item] of list.entries()) yield each(item, i);
}

/** Takes a period's entries out; how many there were. */
export async function deleteEntries(trx: Knex.Transaction, period: number): Promise<number> {
	await trx('ledger_month').where({ period }).delete();
	return trx('ledger_entry').where({ period }).delete();
}
