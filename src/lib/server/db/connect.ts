import { mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import knex, { type Knex } from 'knex';
import { migrations } from './migrations';

interface RawConnection {
	pragma(text: string): unknown;
	serialize(): Buffer;
}

/**
 * Opens the database file, brings it to the present form and checks its integrity.
 * `:memory:` gives a database that lives as long as the handle; so do the bytes of one, as `serialize` answers them.
 * @throws Error when the file is damaged
 */
export async function openDatabase(file: string | Buffer): Promise<Knex> {
	if (typeof file === 'string' && file !== ':memory:') mkdirSync(dirname(file), { recursive: true });
	const db = knex({
		client: 'better-sqlite3',
		connection: { filename: file as string },
		useNullAsDefault: true,
		pool: {
			// One writer and one process: a single connection makes every transaction serial.
			min: 1,
			max: 1,
			afterCreate(connection: RawConnection, done: (error: Error | null, c: RawConnection) => void) {
				connection.pragma('journal_mode = WAL');
				connection.pragma('synchronous = FULL');
				connection.pragma('foreign_keys = ON');
				connection.pragma('cache_size = -65536');
				done(null, connection);
			}
		}
	});
	const [check] = (await db.raw('PRAGMA quick_check(1)')) as { quick_check: string }[];
	if (check.quick_check !== 'ok') {
		await db.destroy();
		throw new Error(
			`The database ${typeof file === 'string' ? file : 'in memory'} is damaged (${check.quick_check}). Restore a backup: see docs/operations.md.`
		);
	}
	await db.migrate.latest({
		migrationSource: {
			getMigrations: async () => migrations,
			getMigrationName: (m: (typeof migrations)[number]) => m.name,
			getMigration: async (m: (typeof migrations)[number]) => m
		}
	});
	return db;
}

/** A database as bytes, as it is now. */
export async function serialize(db: Knex): Promise<Buffer> {
	const connection = (await db.client.acquireConnection()) as RawConnection;
	try {
		return connection.serialize();
	} finally {
		await db.client.releaseConnection(connection);
	}
}
