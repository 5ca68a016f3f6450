import type { Knex } from 'knex';
import { openDatabase } from './db/connect';
import { databaseFile } from './settings';

let opened: Promise<Knex> | null = null;

/** The server's one database handle, opened when first asked for. */
export function database(): Promise<Knex> {
	return (opened ??= openDatabase(databaseFile()));
}
