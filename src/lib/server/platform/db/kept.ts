/**
 * What was read is kept until what it was read from is written: by this connection, or anything at all by another process.
 * Pages ask the same questions again and again, and under load every question waits its turn.
 */
import type { Knex } from 'knex';

/** What is asked of a raw connection. */
export interface Connection {
	prepare(sql: string): { get(): Record<string, number> };
	exec(sql: string): unknown;
	function(name: string, work: (table: string) => null): unknown;
}
/** Changes when anything has been written; what a transaction has written and taken back counts too. */
type Stamp = () => string;

/** Tables that something is read from; told apart by what it is, not by what it lists. */
export type Tables = readonly string[];

interface Keep {
	stamp: Stamp;
	/** The state that the answers belong to. */
	at: string;
	answers: Map<string, Promise<unknown>>;
	/** Those that are there already. */
	done: Map<string, unknown>;
}
/** What is kept of a database, by the tables that it was read from. */
interface Keeps {
	of(tables: Tables): Keep;
	/** The tables that are watched from now on. */
	watch(connection: Connection): void;
}

/** What a database and all transactions on it have in common, to keep things by. */
export const sharedBy = (db: Knex): object => db.client.config as object;

/** So many answers are kept; what is asked about may be anything. */
const MOST_KEPT = 2000;

const keeps = new WeakMap<object, Keeps>();

/** Counts a row that was written; a trigger of the connection calls it. */
const COUNT = 'row_written';

/** To be called once a connection is open. */
export function keepFor(shared: object, connection: Connection): void {
	// Rows changed by this connection, foreign keys' own work included; and whether others have committed.
	const own = connection.prepare('SELECT total_changes() AS n');
	const others = connection.prepare('PRAGMA data_version');
	/** Rows written so far, taken back or not, by table. */
	const written = new Map<string, number>();
	connection.function(COUNT, (table) => {
		written.set(table, written.get(table)! + 1);
		return null;
	});
	const anything: Stamp = () => `${own.get().n}/${others.get().data_version}`;
	const stampOf = (tables: Tables): Stamp =>
		tables.length && tables.every((t) => written.has(t))
			? () => `${tables.map((t) => written.get(t)).join()}/${others.get().data_version}`
			: anything;
	let by = new Map<Tables, Keep>();
	keeps.set(shared, {
		of(tables) {
			const have = by.get(tables);
			if (have) return have;
			const made: Keep = { stamp: stampOf(tables), at: '', answers: new Map(), done: new Map() };
			by.set(tables, made);
			return made;
		},
		watch(connection) {
			for (const table of WATCHED) {
				written.set(table, 0);
				// They are the connection's own, and in no file.
				for (const change of ['INSERT', 'UPDATE', 'DELETE'])
					connection.exec(
						`CREATE TEMP TRIGGER "${change} ${table}" AFTER ${change} ON main."${table}" BEGIN SELECT ${COUNT}('${table}'); END`
					);
			}
			by = new Map();
		}
	});
}

/** Tables that are watched one by one, for they are read again and again; not entries of the ledger, which come by the hundred thousand. */
const WATCHED: Tables = [
	'access_token',
	'company',
	'definition',
	'ledger_key',
	'ledger_month',
	'model',
	'model_row',
	'rate',
	'rate_set',
	'scenario',
	'scenario_model',
	'scenario_schedule',
	'schedule',
	'schedule_row',
	'session',
	'user'
];
/** Nothing is known of where it was read. */
const ANY: Tables = [];

/** To be called once the tables are there. */
export function watchTables(shared: object, connection: Connection): void {
	keeps.get(shared)!.watch(connection);
}

/**
 * The answer of `read`, which is kept under its key until one of the tables is written; of no tables, until anything is.
 * Nobody may change it. A transaction reads for itself what is not there: it sees what nobody else may see yet.
 * @param tables all that it is read from, if each is watched
 */
export async function readOnce<T>(
	db: Knex,
	key: string,
	read: () => Promise<T>,
	tables: Tables = ANY
): Promise<T> {
	const keep = keeps.get(sharedBy(db))?.of(tables);
	if (!keep) return read();
	const now = keep.stamp();
	if (keep.at !== now || keep.answers.size >= MOST_KEPT) {
		keep.at = now;
		keep.answers = new Map();
		keep.done = new Map();
	}
	const { answers, done } = keep;
	if (done.has(key)) return done.get(key) as T;
	// To wait for somebody who waits for this transaction would never end.
	if (db.isTransaction) return read();
	const asked = answers.get(key) as Promise<T> | undefined;
	if (asked) return asked;
	const answer = read();
	answers.set(key, answer);
	try {
		const value = await answer;
		// Read while somebody wrote, it may be of before or after.
		if (keep.stamp() === now) done.set(key, value);
		else answers.delete(key);
		return value;
	} catch (e) {
		answers.delete(key);
		throw e;
	}
}

/**
 * Keeps what is made of something by its text: the very same value as long as that reads the same, for those who ask
 * whether it is. @param most so many are kept of a database
 */
export function sameWhile<T>(most: number): (db: Knex, key: string, text: string, make: () => T) => T {
	const kept = new WeakMap<object, Map<string, { text: string; made: T }>>();
	return (db, key, text, make) => {
		const list = kept.get(sharedBy(db)) ?? new Map<string, { text: string; made: T }>();
		kept.set(sharedBy(db), list);
		const have = list.get(key);
		if (have?.text === text) return have.made;
		const made = make();
		if (list.size >= most) list.delete(list.keys().next().value!);
		list.set(key, { text, made });
		return made;
	};
}
