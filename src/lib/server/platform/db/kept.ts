/**
 * What was read is kept until anything is written: by this connection, or by another process. Pages ask the same questions
 * again and again, and under load every question waits its turn.
 */
import type { Knex } from 'knex';

/** What is asked of a raw connection. */
interface Connection {
	prepare(sql: string): { get(): Record<string, number> };
}
/** Changes when anything has been written; what a transaction has written and taken back counts too. */
type Stamp = () => string;

interface Keep {
	stamp: Stamp;
	/** The state that the answers belong to. */
	at: string;
	answers: Map<string, Promise<unknown>>;
	/** Those that are there already. */
	done: Map<string, unknown>;
}

/** What a database and all transactions on it have in common, to keep things by. */
export const sharedBy = (db: Knex): object => db.client.config as object;

/** So many answers are kept; what is asked about may be anything. */
const MOST_KEPT = 2000;

const keeps = new WeakMap<object, Keep>();

/** To be called once a connection is open. */
export function keepFor(shared: object, connection: Connection): void {
	// Rows changed by this connection, foreign keys' own work included; and whether others have committed.
	const own = connection.prepare('SELECT total_changes() AS n');
	const others = connection.prepare('PRAGMA data_version');
	const stamp = () => `${own.get().n}/${others.get().data_version}`;
	keeps.set(shared, { stamp, at: '', answers: new Map(), done: new Map() });
}

/**
 * The answer of `read`, which is kept under its key until anything is written. Nobody may change it.
 * A transaction reads for itself what is not there: it sees what nobody else may see yet.
 */
export async function readOnce<T>(db: Knex, key: string, read: () => Promise<T>): Promise<T> {
	const keep = keeps.get(sharedBy(db));
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
