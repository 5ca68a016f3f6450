/** Copies of the database: made while it is in use, and put in its place only when they are whole. */
import {
	closeSync,
	copyFileSync,
	existsSync,
	fsyncSync,
	mkdirSync,
	mkdtempSync,
	openSync,
	renameSync,
	rmSync
} from 'node:fs';
import { dirname, join } from 'node:path';
import Database from 'better-sqlite3';
import { Refusal } from '../refusal';
import { openDatabase } from './connect';
import { whileNobodyServes } from './serving';

/** Waits until a file is on the disk, so that its name never stands for less than all of it. */
function settle(file: string): void {
	const handle = openSync(file, 'r+');
	try {
		fsyncSync(handle);
	} finally {
		closeSync(handle);
	}
}

/** Files that belong to a database beside itself. */
const JOURNALS = ['-wal', '-shm', '-journal'];

/**
 * Copies a database as it is at one moment, also while it is written.
 * @throws Refusal 404 when there is none, 409 for a target that exists; no half file is left
 */
export async function backup(database: string, target: string): Promise<void> {
	if (!existsSync(database))
		throw new Refusal(404, `There is no database ${database}, so nothing was backed up.`);
	if (existsSync(target))
		throw new Refusal(409, `${target} exists. Name a new file, so that no backup is overwritten.`);
	if (!existsSync(dirname(target))) throw new Refusal(404, `There is no folder ${dirname(target)}.`);
	const making = `${target}.making`;
	rmSync(making, { force: true });
	const source = new Database(database, { fileMustExist: true, readonly: true, timeout: 10_000 });
	try {
		// One reading of one moment: whoever writes meanwhile is not kept waiting.
		source.prepare('VACUUM INTO ?').run(making);
		settle(making);
		renameSync(making, target);
	} finally {
		source.close();
		for (const end of ['', ...JOURNALS]) rmSync(making + end, { force: true });
	}
}

/**
 * Puts a backup, with what its own journal files hold, in the place of a database that is gone.
 * @throws Refusal 404, 409 while a database, its journals or a server are there, 422 for a backup that is not whole;
 * nothing is put in place then
 */
export async function restore(from: string, database: string): Promise<void> {
	if (!existsSync(from)) throw new Refusal(404, `There is no file ${from}.`);
	const there = ['', ...JOURNALS].map((end) => database + end).filter((file) => existsSync(file));
	if (there.length)
		throw new Refusal(
			409,
			`${there.join(', ')} ${there.length === 1 ? 'exists' : 'exist'}. Stop the server and move ${there.length === 1 ? 'it' : 'them'} away first; journals of another database would spoil this one.`
		);
	mkdirSync(dirname(database), { recursive: true });
	await whileNobodyServes(database, async () => {
		const home = mkdtempSync(join(dirname(database), 'restoring-'));
		try {
			const copy = join(home, 'copy.sqlite');
			for (const end of ['', '-wal']) if (existsSync(from + end)) copyFileSync(from + end, copy + end);
			// Brought to the present form and checked where nothing can be harmed.
			await (await openDatabase(copy)).destroy();
			const whole = new Database(copy);
			const made = join(home, 'whole.sqlite');
			try {
				whole.prepare('VACUUM INTO ?').run(made);
			} finally {
				whole.close();
			}
			settle(made);
			renameSync(made, database);
		} finally {
			rmSync(home, { recursive: true, force: true });
		}
	});
}
