/**
 * Which process serves a database: one at a time, and commands can tell. A small file beside the database is locked as
 * long as the process lives, however it ends; its number stands in the file.
 */
import { closeSync, openSync, readSync } from 'node:fs';
import Database from 'better-sqlite3';
import { Refusal } from '../refusal';

const lockFile = (database: string) => `${database}-server`;
/** Where a SQLite file has its user version (file format, section 1.3): 4 bytes, the highest first. */
const USER_VERSION_AT = 60;

/** The process that a lock file names; null when it cannot be read. */
function processIn(file: string): number | null {
	try {
		const handle = openSync(file, 'r');
		const bytes = Buffer.alloc(4);
		const read = readSync(handle, bytes, 0, 4, USER_VERSION_AT);
		closeSync(handle);
		return read === 4 ? bytes.readUInt32BE() : null;
	} catch {
		return null;
	}
}

export interface Serving {
	/** Lets others serve the database; also happens when the process ends. */
	release(): void;
}

/**
 * Says that this process serves a database from now on.
 * @throws Refusal 409 naming the process that does already
 */
export function serve(database: string): Serving {
	const file = lockFile(database);
	const lock = new Database(file, { timeout: 0 });
	try {
		lock.pragma('journal_mode = MEMORY');
		lock.pragma(`user_version = ${process.pid}`);
		lock.exec('BEGIN EXCLUSIVE');
	} catch (e) {
		lock.close();
		if (!String((e as { code?: string }).code).startsWith('SQLITE_BUSY')) throw e;
		throw new Refusal(
			409,
			`The process ${processIn(file) ?? '(unknown)'} has ${database} open already. Stop it first; two at once would not see each other's changes.`
		);
	}
	return {
		release() {
			if (lock.open) lock.close();
		}
	};
}

/** Does something while no process serves the database. @throws Refusal 409 naming the process that does */
export async function whileNobodyServes<T>(database: string, work: () => Promise<T>): Promise<T> {
	const serving = serve(database);
	try {
		return await work();
	} finally {
		serving.release();
	}
}

/** Whether a process serves the database now. */
export function isServed(database: string): boolean {
	try {
		serve(database).release();
		return false;
	} catch (e) {
		if (e instanceof Refusal) return true;
		throw e;
	}
}
