/** Opening the database: what it has to be, and what is said when it is something else. */
import { existsSync, mkdirSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import knex, { type Knex } from 'knex';
import { Refusal } from '../refusal';
import { keepFor, sharedBy, watchTables, type Connection } from './kept';
import { migrations } from './migrations';

interface RawConnection extends Connection {
	readonly inTransaction: boolean;
	pragma(text: string): unknown;
	serialize(): Buffer;
}

/** So long a statement waits for another process that writes (milliseconds). */
const PATIENCE_MS = 10_000;

const silent = () => {};

/** So many statements are kept compiled. */
const MOST_COMPILED = 300;

function connect(file: string | Buffer): Knex {
	const db: Knex = knex({
		client: 'better-sqlite3',
		connection: { filename: file as string },
		useNullAsDefault: true,
		// What goes wrong is thrown, and said once by whoever catches it.
		log: { warn: silent, error: silent, deprecate: silent, debug: silent },
		pool: {
			// One writer and one process: a single connection makes every transaction serial.
			min: 1,
			max: 1,
			afterCreate(connection: RawConnection, done: (error: Error | null, c: RawConnection) => void) {
				try {
					connection.pragma(`busy_timeout = ${PATIENCE_MS}`);
					connection.pragma('journal_mode = WAL');
					connection.pragma('synchronous = FULL');
					connection.pragma('foreign_keys = ON');
					connection.pragma('cache_size = -65536');
					const prepare = connection.prepare.bind(connection);
					const compiled = new Map<string, ReturnType<typeof prepare>>();
					const statement = (sql: string) => {
						const have = compiled.get(sql);
						if (have) return have;
						if (compiled.size >= MOST_COMPILED) compiled.delete(compiled.keys().next().value!);
						const made = prepare(sql);
						compiled.set(sql, made);
						return made;
					};
					connection.prepare = (sql) => {
						// A transaction that reads first and then writes would fail when a command has written in between.
						if (sql === 'BEGIN;') return statement('BEGIN IMMEDIATE;');
						// Out of room, SQLite has rolled back itself; to be told so would hide what happened.
						if (sql.startsWith('ROLLBACK') && !connection.inTransaction) return statement('SELECT 1');
						return statement(sql);
					};
					keepFor(sharedBy(db), connection);
					done(null, connection);
				} catch (e) {
					done(e as Error, connection);
				}
			}
		}
	});
	return db;
}

const source: Knex.MigrationSource<(typeof migrations)[number]> = {
	getMigrations: async () => migrations,
	getMigrationName: (m) => m.name,
	getMigration: async (m) => m
};

/** What a database is: with all steps of its form, without some, or with steps that this version does not know. */
type Form = 'current' | 'older' | 'newer' | 'empty' | 'foreign';

async function formOf(db: Knex): Promise<Form> {
	const tables = (await db('sqlite_master').where({ type: 'table' }).pluck('name')) as string[];
	if (!tables.filter((t) => !t.startsWith('sqlite_')).length) return 'empty';
	if (!tables.includes('knex_migrations')) return 'foreign';
	const done = new Set((await db('knex_migrations').pluck('name')) as string[]);
	if (!done.size) return tables.includes('company') ? 'foreign' : 'empty';
	if (!done.has(migrations[0].name)) return 'foreign';
	const known = new Set(migrations.map((m) => m.name));
	if ([...done].some((name) => !known.has(name))) return 'newer';
	return done.size === known.size ? 'current' : 'older';
}

/**
 * Opens the database file, brings it to the present form and checks its integrity.
 * `:memory:` gives a database that lives as long as the handle; so do the bytes of one, as `serialize` answers them.
 * @param upgrade whether its form may be changed; without it only a database of the present form is opened
 * @throws Refusal in one sentence when it is damaged, read-only, no database of ours, or of a later version
 */
export async function openDatabase(file: string | Buffer, upgrade = true): Promise<Knex> {
	const name = typeof file === 'string' ? file : 'in memory';
	if (typeof file === 'string' && file !== ':memory:') {
		if (existsSync(file)) mustBeWritable(file);
		else mkdirSync(dirname(file), { recursive: true });
	}
	const db = connect(file);
	try {
		const [check] = (await db.raw('PRAGMA quick_check(1)')) as { quick_check: string }[];
		if (check.quick_check !== 'ok') throw damaged(name, check.quick_check);
		const form = await formOf(db);
		if (form === 'foreign')
			throw new Refusal(422, `${name} is a database of another application, not of Yardstave.`);
		if (form === 'newer')
			throw new Refusal(
				422,
				`${name} was written by a later version of Yardstave. Start that version, or restore a backup made with this one.`
			);
		if (form !== 'current') {
			if (!upgrade)
				throw new Refusal(
					409,
					`${name} is of an earlier version of Yardstave, and a server has it open. Stop the server first.`
				);
			// Nobody else is at it; a lock that is there was left by a process that was killed.
			if (form === 'older') await db.migrate.forceFreeMigrationsLock({ migrationSource: source });
			await db.migrate.latest({ migrationSource: source });
		}
		await withConnection(db, (connection) => watchTables(sharedBy(db), connection));
		return db;
	} catch (e) {
		await db.destroy();
		throw inOneSentence(e, name);
	}
}

function mustBeWritable(file: string): void {
	const stats = statSync(file);
	if (!stats.isFile()) throw new Refusal(422, `${file} is no file, and so no database.`);
	// Also where the process could write all the same: whoever made it read-only meant it.
	if ((stats.mode & 0o222) === 0)
		throw new Refusal(422, `The database ${file} is read-only. Make it writable for the server.`);
}

const damaged = (name: string, what: string) =>
	new Refusal(
		422,
		`The database ${name} is damaged (${what.replace(/\s+/g, ' ').trim()}). Restore a backup: see docs/operations.md.`
	);

/** What the driver says of a file, in words for whoever runs the server. */
function inOneSentence(e: unknown, name: string): unknown {
	const { code = '', message = '' } = e as { code?: string; message?: string };
	if (e instanceof Refusal) return e;
	if (code === 'SQLITE_NOTADB') return new Refusal(422, `${name} is no database file.`);
	if (code.startsWith('SQLITE_CORRUPT')) return damaged(name, message.split(' - ').at(-1) ?? message);
	if (code.startsWith('SQLITE_READONLY') || code === 'SQLITE_CANTOPEN' || code === 'EACCES')
		return new Refusal(
			422,
			`The database ${name} cannot be written (${message}). Give the server the right to.`
		);
	if (code.startsWith('SQLITE_BUSY'))
		return new Refusal(409, `The database ${name} is being written by another process. Try again.`);
	return e;
}

/** A database as bytes, as it is now. */
export const serialize = (db: Knex): Promise<Buffer> => withConnection(db, (c) => c.serialize());

async function withConnection<T>(db: Knex, work: (connection: RawConnection) => T): Promise<T> {
	const connection = (await db.client.acquireConnection()) as RawConnection;
	try {
		return work(connection);
	} finally {
		await db.client.releaseConnection(connection);
	}
}
