import type { Knex } from 'knex';
import { openDatabase } from './db/connect';
import { serve, type Serving } from './db/serving';
import { databaseFile } from './settings';

let opened: Promise<Knex> | null = null;
let serving: Serving | null = null;

/** The server's one database handle, opened when first asked for. @throws Refusal when another process serves it */
export function database(): Promise<Knex> {
	return (opened ??= (async () => {
		const file = databaseFile();
		serving = serve(file);
		return openDatabase(file);
	})());
}

// A server that has answered its last request ends; an open handle would keep it.
process.once('sveltekit:shutdown', () => {
	void opened?.then((db) => db.destroy()).finally(() => serving?.release());
});
