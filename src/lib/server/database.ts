import type { Knex } from 'knex';
import { openDatabase } from './db/connect';
import { databaseFile } from './settings';

let opened: Promise<Knex> | null = null;

/** The server's one database handle, opened when first asked for. */
export function database(): Promise<Knex> {
	return (opened ??= openDatabase(databaseFile()));
}

// A server that has answered its last request ends; an open handle would keep it.
process.once('sveltekit:shutdown', () => void opened?.then((db) => db.destroy()));
