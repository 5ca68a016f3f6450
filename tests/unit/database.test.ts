/** The database at its limits: what it has to be to be opened, a full disk, two processes at once. */
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { loadFolder } from '../../src/lib/server/transfer/folder';
import { backup } from '../../src/lib/server/platform/db/backup';
import { fromBlob } from '../../src/lib/server/platform/db/bulk';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { isServed, serve } from '../../src/lib/server/platform/db/serving';
import { Refusal, refusalOf } from '../../src/lib/server/platform/refusal';
import { PRAXIS, userOf, typeInPlan } from '../support/company';

let home: string;
let file: string;
beforeEach(() => {
	home = mkdtempSync(join(tmpdir(), 'database-'));
	file = join(home, 'company.sqlite');
});
afterEach(() => rmSync(home, { recursive: true, force: true }));

const refused = (work: Promise<unknown>): Promise<string> =>
	work.then(
		() => Promise.reject(new Error('It was not refused.')),
		(e: unknown) => (e instanceof Refusal ? e.message : Promise.reject(e))
	);
const company = async () => {
	const db = await openDatabase(file);
	await loadFolder(db, PRAXIS);
	return db;
};
const wages = (value: number, before: number) => [{ account: 'wages', period: 2026 * 12 + 6, before, value }];

describe('a file that is no database of ours', () => {
	it('is told apart in one line: text, another application’s, a later version’s, a read-only one, a folder', async () => {
		writeFileSync(file, 'Dear Sir or Madam, '.repeat(500));
		expect(await refused(openDatabase(file))).toMatch(/is no database file\.$/);
		rmSync(file);
		const other = new Database(file);
		other.exec('create table recipes (name text)');
		other.close();
		expect(await refused(openDatabase(file))).toMatch(/of another application, not of Yardstave\.$/);
		rmSync(file);
		const db = await openDatabase(file);
		await db('knex_migrations').insert({ name: '999_later', batch: 9 });
		await db.destroy();
		expect(await refused(openDatabase(file))).toMatch(/written by a later version/);
		rmSync(file);
		await (await openDatabase(file)).destroy();
		chmodSync(file, 0o444);
		expect(await refused(openDatabase(file))).toMatch(/is read-only/);
		expect(await refused(openDatabase(home))).toMatch(/is no file/);
	});
	it('of an earlier version is brought to this one, also after a process was killed at it', async () => {
		const db = await openDatabase(file);
		await db('knex_migrations').where({ name: '010_opened_rows' }).delete();
		await db.schema.dropTable('opened');
		await db('knex_migrations_lock').update({ is_locked: 1 });
		await db.destroy();
		expect(await refused(openDatabase(file, false))).toMatch(/earlier version .* Stop the server first/);
		const again = await openDatabase(file);
		expect(await again.schema.hasTable('opened')).toBe(true);
		await again.destroy();
	});
});

describe('a full disk', () => {
	it('is said plainly, saves nothing, and saving goes on once there is room', async () => {
		const db = await company();
		const ana = await userOf(db, 'ana');
		const [{ page_count: pages }] = (await db.raw('PRAGMA page_count')) as { page_count: number }[];
		await db.raw(`PRAGMA max_page_count = ${pages}`);
		const before = await db('journal').count({ n: '*' }).first();
		// Large enough to need a page of its own.
		const note = { scenario: 'f2', subject: 'x', at: '', user: 'ana', text: 'x'.repeat(200_000) };
		const full = await db.transaction((trx) => trx('note').insert(note)).catch((e: unknown) => e);
		expect(refusalOf(full)).toMatchObject({
			status: 507,
			message: expect.stringMatching(/disk of the server is full/)
		});
		expect(await db('note').first()).toBeUndefined();
		await db.raw('PRAGMA max_page_count = 1000000');
		expect(await typeInPlan({ db, user: ana }, 'f2', 'labor', wages(9000, 8100.05))).toBe(1);
		expect(await db('journal').count({ n: '*' }).first()).not.toEqual(before);
		await db.destroy();
	});
});

describe('two processes', () => {
	it('do not serve one database; the second is told of the first', async () => {
		const serving = serve(file);
		expect(() => serve(file)).toThrow(new RegExp(`process ${process.pid} has .* open already`));
		expect(isServed(file)).toBe(true);
		serving.release();
		expect(isServed(file)).toBe(false);
		serve(file).release();
	});
	it('write in turn: a save waits for a command, and none fails while backups are made', async () => {
		const db = await company();
		const ana = await userOf(db, 'ana');
		// Another process that reads first and then writes, again and again.
		const script = `
			const db = new (require('better-sqlite3'))(${JSON.stringify(file)}, { timeout: 10000 });
			const rename = db.transaction((n) => {
				db.prepare('select * from user').all();
				db.prepare("update user set name = ? where email like 'ana%'").run('Ana ' + n);
			});
			for (let n = 0; n < 150; n++) rename.immediate(n);`;
		const other = spawn(process.execPath, ['-e', script], { stdio: 'inherit' });
		const ended = new Promise((done) => other.once('exit', done));
		let value = 8100.05;
		for (let i = 1; i <= 30; i++) {
			expect(await typeInPlan({ db, user: ana }, 'f2', 'labor', wages(i, value))).toBe(1);
			value = i;
			if (i % 10 === 0) await backup(file, join(home, `copy-${i}.sqlite`));
		}
		expect(await ended).toBe(0);
		expect((await db('user').where({ email: ana.email }).first()).name).toBe('Ana 149');
		const kept = await openDatabase(join(home, 'copy-20.sqlite'));
		const { data } = (await kept('series')
			.where({ line: 'wages', row: 'labor', scenario: 'f2' })
			.first('data')) as {
			data: Buffer;
		};
		expect(fromBlob(data)[6]).toBe(20);
		await kept.destroy();
		await db.destroy();
	});
});
