/** Before any test: the companies that most tests begin with, each loaded once into a database that they copy. */
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { loadFolder } from '../../src/lib/server/transfer/folder';

export const DEMO = 'demo/company';
export const PRAXIS = 'tests/companies/praxis';

const fileOf = (home: string, folder: string) => join(home, `${folder.replaceAll('/', '-')}.sqlite`);

/** The database of a company that was loaded before; null where none was, as in a bench. */
export function preparedFile(folder: string): string | null {
	const home = process.env.PREPARED_COMPANIES;
	if (!home) return null;
	const file = fileOf(home, folder);
	return existsSync(file) ? file : null;
}

export default async function prepare() {
	const home = mkdtempSync(join(tmpdir(), 'companies-'));
	for (const folder of [DEMO, PRAXIS]) {
		const db = await openDatabase(fileOf(home, folder));
		await loadFolder(db, folder);
		// All of it in the one file that is copied.
		await db.raw('PRAGMA journal_mode = DELETE');
		await db.destroy();
	}
	process.env.PREPARED_COMPANIES = home;
	return () => rmSync(home, { recursive: true, force: true });
}
