/** Starting the server on what is no sound database, or on one that is served already: one plain line, and nothing listens. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { loadFolder } from '../../src/lib/server/transfer/folder';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { Client, startApp } from '../support/app';
import { PRAXIS } from '../support/company';

const home = mkdtempSync(join(tmpdir(), 'start-'));
const file = join(home, 'company.sqlite');
beforeEach(() => {
	for (const end of ['', '-wal', '-shm']) rmSync(file + end, { force: true });
});
afterAll(() => rmSync(home, { recursive: true, force: true }));

/** Starts the built server; answers when it has ended. */
function start(database: string) {
	const done = spawnSync(process.execPath, ['build/index.js'], {
		env: {
			...process.env,
			HOST: '127.0.0.1',
			PORT: '0',
			YARDSTAVE_DATABASE: database,
			YARDSTAVE_LOG: 'error'
		},
		encoding: 'utf8',
		timeout: 20_000
	});
	return { code: done.status, said: done.stdout + done.stderr };
}

describe('a start', () => {
	it('on a damaged database, on no database, and on another application’s says so and ends', async () => {
		const db = await openDatabase(file);
		await loadFolder(db, PRAXIS);
		await db.raw('PRAGMA wal_checkpoint(TRUNCATE)');
		await db.destroy();
		const bytes = readFileSync(file);
		bytes.fill(0x5a, 8192, 60_000);
		writeFileSync(file, bytes);
		const damaged = start(file);
		expect(damaged.code).toBe(1);
		expect(damaged.said).toMatch(/^The database .* is damaged .*\n$/);
		writeFileSync(file, 'Dear Sir or Madam, '.repeat(500));
		expect(start(file)).toEqual({ code: 1, said: `${file} is no database file.\n` });
		rmSync(file);
		const other = new Database(file);
		other.exec('create table recipes (name text)');
		other.close();
		expect(start(file).said).toMatch(/^.* is a database of another application, not of Yardstave\.\n$/);
	});
	it('on a database that another process serves names that process, and leaves it alone', async () => {
		const app = await startApp(PRAXIS);
		try {
			const second = start(app.database);
			expect(second.code).toBe(1);
			expect(second.said).toMatch(
				new RegExp(`^The process ${app.process.pid} has .* open already\\. .*\\n$`)
			);
			const ana = await Client.signIn(app, 'ana@praxis.example');
			expect((await ana.get('me')).status).toBe(200);
			// However it ended: the next one may serve.
			const again = await app.restart();
			expect((await fetch(`${again.url}/signin`)).status).toBe(200);
			await again.stop();
		} finally {
			await app.stop();
		}
	});
});
