/**
 * What each month of the ledger comes to, by ledger account, department and tags: summed once, when its entries are
 * written, for every figure of actuals is read from it.
 */
import type { Knex } from 'knex';
import { readOnce, type Tables } from '../platform/db/kept';
import { fromBlob, insertMany, toBlob, wholesFromBlob } from '../platform/db/bulk';
import * as stored from '../platform/db/stored';

/** What totals of the ledger are by. */
export interface LedgerKey {
	ledgerAccount: string;
	department: string;
	/** As an entry has them. */
	tags: string;
}
export interface LedgerMonth {
	period: number;
	/** Ids of keys, and what the entries of each come to: debit positive. */
	keys: Int32Array;
	amounts: Float64Array;
}
export interface LedgerMonths {
	/** By its id; what no month has may be among them. */
	keys: ReadonlyMap<number, LedgerKey>;
	/** In order. */
	months: readonly LedgerMonth[];
}

async function readKeys(db: Knex): Promise<Map<number, LedgerKey>> {
	const keys = await stored.many(
		{ id: 'number', ledger_account: 'text', department: 'text', tags: 'text' },
		db('ledger_key').orderBy('id')
	);
	return new Map(
		keys.map((k) => [k.id, { ledgerAccount: k.ledger_account, department: k.department, tags: k.tags }])
	);
}

const MONTH_TABLES: Tables = ['ledger_key', 'ledger_month'];
/** The very same as long as nothing is booked; nobody changes it. */
export const readLedgerMonths = (db: Knex): Promise<LedgerMonths> =>
	readOnce(db, 'months', () => readMonths(db), MONTH_TABLES);

async function readMonths(db: Knex): Promise<LedgerMonths> {
	const months = await stored.many(
		{ period: 'number', keys: 'bytes', amounts: 'bytes' },
		db('ledger_month').orderBy('period')
	);
	return {
		keys: await readKeys(db),
		months: months.map((m) => ({
			period: m.period,
			keys: wholesFromBlob(m.keys),
			amounts: fromBlob(m.amounts)
		}))
	};
}

/** What is added to a month. */
export interface Booked extends LedgerKey {
	period: number;
	amount: number;
}

/** Keeps what months come to that have no entries yet. */
export async function keepLedgerMonths(trx: Knex.Transaction, entries: Iterable<Booked>): Promise<void> {
	const ids = new Map<string, number>();
	let next = 1;
	for (const [id, key] of await readKeys(trx)) {
		ids.set(nameOf(key), id);
		next = id + 1;
	}
	const added: unknown[][] = [];
	const months = new Map<
		number,
		{ keys: number[]; places: Map<number, number>; values: number[]; lost: number[] }
	>();
	for (const e of entries) {
		const name = nameOf(e);
		let id = ids.get(name);
		if (id === undefined) {
			ids.set(name, (id = next++));
			added.push([id, e.ledgerAccount, e.department, e.tags]);
		}
		let month = months.get(e.period);
		if (!month) months.set(e.period, (month = { keys: [], places: new Map(), values: [], lost: [] }));
		let at = month.places.get(id);
		if (at === undefined) {
			month.places.set(id, (at = month.keys.length));
			month.keys.push(id);
			month.values.push(0);
			month.lost.push(0);
		}
		addTo(month.values, month.lost, at, e.amount);
	}
	await insertMany(trx, 'ledger_key', ['id', 'ledger_account', 'department', 'tags'], added);
	await insertMany(
		trx,
		'ledger_month',
		['period', 'keys', 'amounts'],
		[...months].map(([period, { keys, values, lost }]) => [
			period,
			toBlob(Int32Array.from(keys)),
			toBlob(Float64Array.from(values, (v, i) => v + lost[i]))
		])
	);
}

export const nameOf = ({ ledgerAccount, department, tags }: LedgerKey) =>
	`${ledgerAccount}\n${department}\n${tags}`;

/**
 * Adds to one of several sums as exactly as SQLite's own sum() does (Neumaier), so that cents of thousands of entries stay
 * cents: what rounding takes on the way is kept in `lost`, to be added in the end.
 */
export function addTo(
	sums: number[] | Float64Array,
	lost: number[] | Float64Array,
	at: number,
	amount: number
): void {
	const before = sums[at];
	const sum = before + amount;
	lost[at] += Math.abs(before) >= Math.abs(amount) ? before - sum + amount : amount - sum + before;
	sums[at] = sum;
}
