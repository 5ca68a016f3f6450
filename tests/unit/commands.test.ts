/** The commands on a company's data, as an administrator runs them. */
import { spawnSync } from 'node:child_process';
import {
	copyFileSync,
	existsSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	rmSync,
	writeFileSync
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { build } from 'esbuild';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { signIn } from '../../src/lib/server/platform/auth/sessions';
import { readFolder } from '../../src/lib/server/transfer/folder';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { PRAXIS } from '../support/company';

/** The commands in one file, so that each begins at once; beside the packages that it needs. */
const program = join('node_modules/.cache', `company-${process.pid}.mjs`);
beforeAll(() =>
	build({
		entryPoints: ['scripts/company.ts'],
		outfile: program,
		bundle: true,
		platform: 'node',
		format: 'esm',
		packages: 'external',
		logLevel: 'error'
	})
);
const home = mkdtempSync(join(tmpdir(), 'commands-'));
const database = join(home, 'company.sqlite');
const at = (name: string) => join(home, name);

function company(...args: string[]) {
	return run(args, '');
}
function run(args: string[], input: string) {
	const done = spawnSync(process.execPath, [program, ...args], {
		env: { ...process.env, YARDSTAVE_DATABASE: database },
		input,
		encoding: 'utf8'
	});
	return { code: done.status, out: done.stdout, err: done.stderr };
}
beforeEach(() => {
	for (const end of ['', '-wal', '-shm']) rmSync(database + end, { force: true });
});
afterAll(() => {
	rmSync(home, { recursive: true, force: true });
	rmSync(program, { force: true });
});

describe('npm run company', () => {
	it('loads, saves the same files, and does not load over a company', () => {
		expect(company('load', PRAXIS)).toMatchObject({ code: 0 });
		expect(company('save', at('out')).out).toMatch(/Wrote \d+ files/);
		expect([...readFolder(at('out'))].sort()).toEqual([...readFolder(PRAXIS)].sort());
		const again = company('load', PRAXIS);
		expect(again.code).toBe(1);
		expect(again.err).toMatch(/holds a company already/);
	});
	it('says where a folder is wrong, and leaves the database empty', () => {
		expect(company('load', PRAXIS).code).toBe(0);
		company('save', at('bad'));
		for (const end of ['', '-wal', '-shm']) rmSync(database + end, { force: true });
		const users = at('bad/users.csv');
		writeFileSync(users, readFileSync(users, 'utf8').replace('analyst', 'boss'));
		const refused = company('load', at('bad'));
		expect(refused.code).toBe(1);
		expect(refused.err).toMatch(/users\.csv, row 2, column role: “boss” was found; one of analyst/);
		expect(company('load', PRAXIS).code).toBe(0);
		expect(company('load', at('nowhere')).err).toMatch(/There is no folder/);
	});
	it('sets a password that then signs in, and no other', async () => {
		company('load', PRAXIS);
		expect(run(['password', 'ana@praxis.example'], 'short').err).toMatch(/at least 10 characters/);
		expect(run(['password', 'nobody@praxis.example'], 'a good long word').err).toMatch(/There is no user/);
		expect(run(['password', 'Ana@praxis.example'], 'a good long word\n').code).toBe(0);
		const db = await openDatabase(database);
		await expect(signIn(db, 'ana@praxis.example', 'a good long word', 'here')).resolves.toMatchObject({
			role: 'analyst'
		});
		await expect(signIn(db, 'ana@praxis.example', 'another long word', 'here')).rejects.toMatchObject({
			status: 401
		});
		await expect(signIn(db, 'urs@praxis.example', '', 'here')).rejects.toMatchObject({ status: 401 });
		expect((await db('user').where({ email: 'ana@praxis.example' }).first()).password_hash).toMatch(
			/^\$argon2id\$/
		);
		await db.destroy();
	});
	it('backs up what is there, once, and restores only what is whole, in the place of nothing', () => {
		const none = company('backup', at('none.sqlite'));
		expect(none).toMatchObject({ code: 1, err: expect.stringMatching(/There is no database/) });
		expect(existsSync(database)).toBe(false);
		expect(readdirSync(home).filter((f) => /none|making/.test(f))).toEqual([]);
		company('load', PRAXIS);
		expect(company('backup', at('copy.sqlite')).code).toBe(0);
		const first = readFileSync(at('copy.sqlite'));
		expect(company('backup', at('copy.sqlite')).err).toMatch(/exists\. Name a new file/);
		expect(readFileSync(at('copy.sqlite'))).toEqual(first);
		expect(company('restore', at('copy.sqlite')).err).toMatch(/exists?\. Stop the server/);
		rmSync(database);
		// The journal of another database would be taken for its own.
		writeFileSync(`${database}-wal`, 'x');
		expect(company('restore', at('copy.sqlite')).err).toMatch(/-wal.*journals of another database/);
		rmSync(`${database}-wal`);
		rmSync(`${database}-shm`, { force: true });
		const bytes = Buffer.from(first);
		bytes.fill(0x5a, 8192, 60_000);
		writeFileSync(at('broken.sqlite'), bytes);
		writeFileSync(at('letter.sqlite'), 'Dear Sir or Madam, '.repeat(500));
		expect(company('restore', at('broken.sqlite')).err).toMatch(/^The database .* is damaged/);
		expect(company('restore', at('letter.sqlite')).err).toMatch(/is no database file/);
		expect(company('restore', at('nowhere.sqlite')).err).toMatch(/There is no file/);
		expect(readdirSync(home).filter((f) => f === 'company.sqlite' || f.startsWith('restoring'))).toEqual([]);
		expect(company('restore', at('copy.sqlite')).out).toMatch(/integrity is checked/);
		const db = new Database(database);
		expect(db.prepare('select name from company').get()).toEqual({ name: 'Praxis am Bach' });
		db.close();
	}, 120_000);
	it('restores what stands in the journal beside a copy too', () => {
		company('load', PRAXIS);
		const db = new Database(database);
		db.pragma('wal_autocheckpoint = 0');
		db.exec("update company set name = 'Renamed'");
		for (const end of ['', '-wal']) copyFileSync(database + end, at(`pair.sqlite${end}`));
		db.close();
		for (const end of ['', '-wal', '-shm']) rmSync(database + end, { force: true });
		expect(company('restore', at('pair.sqlite')).code).toBe(0);
		const again = new Database(database);
		expect(again.prepare('select name from company').get()).toEqual({ name: 'Renamed' });
		again.close();
	});
	it('explains itself', () => {
		for (const args of [[], ['dance', 'now'], ['load']])
			expect(company(...args)).toMatchObject({ code: 1, err: expect.stringMatching(/Usage:/) });
		expect(existsSync(at('now'))).toBe(false);
		// As it is called.
		const npm = spawnSync('npm', ['run', '--silent', 'company', '--', 'dance'], { encoding: 'utf8' });
		expect(npm).toMatchObject({ status: 1, stderr: expect.stringMatching(/Usage:/) });
	});
	it('refuses a damaged database instead of working on it', () => {
		company('load', PRAXIS);
		company('backup', at('whole.sqlite'));
		const bytes = readFileSync(at('whole.sqlite'));
		bytes.fill(0x5a, 8192, 60_000);
		writeFileSync(database, bytes);
		const refused = company('save', at('never'));
		expect(refused.code).not.toBe(0);
		expect(refused.err).toMatch(/damaged|malformed/);
		expect(existsSync(at('never'))).toBe(false);
	});
});
