/** The commands on a company's data, as an administrator runs them. */
import { spawnSync } from 'node:child_process';
import {
	copyFileSync,
	cpSync,
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
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { signIn } from '../../src/lib/server/platform/auth/sessions';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { companyCommand, refusalText } from '../../src/lib/server/transfer/commands';
import { readFolder } from '../../src/lib/server/transfer/folder';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { PRAXIS } from '../support/company';

const home = mkdtempSync(join(tmpdir(), 'commands-'));
const database = join(home, 'company.sqlite');
const at = (name: string) => join(home, name);

const before = process.env.YARDSTAVE_DATABASE;
process.env.YARDSTAVE_DATABASE = database;

const company = (...args: string[]) => run(args, '');
async function run(args: string[], input: string) {
	try {
		return { code: 0, out: await companyCommand(args, () => input), err: '' };
	} catch (error) {
		return { code: 1, out: '', err: error instanceof Refusal ? refusalText(error) : String(error) };
	}
}
beforeEach(() => {
	for (const end of ['', '-wal', '-shm']) rmSync(database + end, { force: true });
});
afterAll(() => {
	if (before === undefined) delete process.env.YARDSTAVE_DATABASE;
	else process.env.YARDSTAVE_DATABASE = before;
	rmSync(home, { recursive: true, force: true });
});

describe('npm run company', () => {
	it('loads, saves the same files, and does not load over a company', async () => {
		expect(await company('load', PRAXIS)).toMatchObject({ code: 0 });
		expect((await company('save', at('out'))).out).toMatch(/Wrote \d+ files/);
		expect([...readFolder(at('out'))].sort()).toEqual([...readFolder(PRAXIS)].sort());
		const again = await company('load', PRAXIS);
		expect(again.code).toBe(1);
		expect(again.err).toMatch(/holds a company already/);
	});
	it('says what it assumed of a folder from an earlier version', async () => {
		const folder = at('earlier');
		cpSync(PRAXIS, folder, { recursive: true });
		const file = join(folder, 'dimensions/group.csv');
		const text = readFileSync(file, 'utf8').replace(/,(retired|no),/g, ',');
		writeFileSync(file, text);
		expect((await company('load', folder)).out.split('\n').slice(1, 3)).toEqual([
			'It was written by an earlier version, so this was assumed:',
			'  dimensions/group.csv has no “retired”: no member is retired'
		]);
	});
	it('says where a folder is wrong, and leaves the database empty', async () => {
		expect((await company('load', PRAXIS)).code).toBe(0);
		await company('save', at('bad'));
		for (const end of ['', '-wal', '-shm']) rmSync(database + end, { force: true });
		const users = at('bad/users.csv');
		writeFileSync(users, readFileSync(users, 'utf8').replace('analyst', 'boss'));
		const refused = await company('load', at('bad'));
		expect(refused.code).toBe(1);
		expect(refused.err).toMatch(/users\.csv, row 2, column role: “boss” was found; one of analyst/);
		expect((await company('load', PRAXIS)).code).toBe(0);
		expect((await company('load', at('nowhere'))).err).toMatch(/There is no folder/);
	});
	it('sets a password that then signs in, and no other', async () => {
		await company('load', PRAXIS);
		expect((await run(['password', 'ana@praxis.example'], 'short')).err).toMatch(/at least 10 characters/);
		expect((await run(['password', 'nobody@praxis.example'], 'a good long word')).err).toMatch(
			/There is no user/
		);
		expect((await run(['password', 'Ana@praxis.example'], 'a good long word\n')).code).toBe(0);
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
	it('backs up what is there, once, and restores only what is whole, in the place of nothing', async () => {
		const none = await company('backup', at('none.sqlite'));
		expect(none).toMatchObject({ code: 1, err: expect.stringMatching(/There is no database/) });
		expect(existsSync(database)).toBe(false);
		expect(readdirSync(home).filter((f) => /none|making/.test(f))).toEqual([]);
		await company('load', PRAXIS);
		expect((await company('backup', at('copy.sqlite'))).code).toBe(0);
		const first = readFileSync(at('copy.sqlite'));
		expect((await company('backup', at('copy.sqlite'))).err).toMatch(/exists\. Name a new file/);
		expect(readFileSync(at('copy.sqlite'))).toEqual(first);
		expect((await company('restore', at('copy.sqlite'))).err).toMatch(/exists?\. Stop the server/);
		rmSync(database);
		// The journal of another database would be taken for its own.
		writeFileSync(`${database}-wal`, 'x');
		expect((await company('restore', at('copy.sqlite'))).err).toMatch(/-wal.*journals of another database/);
		rmSync(`${database}-wal`);
		rmSync(`${database}-shm`, { force: true });
		const bytes = Buffer.from(first);
		bytes.fill(0x5a, 8192, 60_000);
		writeFileSync(at('broken.sqlite'), bytes);
		writeFileSync(at('letter.sqlite'), 'Dear Sir or Madam, '.repeat(500));
		expect((await company('restore', at('broken.sqlite'))).err).toMatch(/^The database .* is damaged/);
		expect((await company('restore', at('letter.sqlite'))).err).toMatch(/is no database file/);
		expect((await company('restore', at('nowhere.sqlite'))).err).toMatch(/There is no file/);
		expect(readdirSync(home).filter((f) => f === 'company.sqlite' || f.startsWith('restoring'))).toEqual([]);
		expect((await company('restore', at('copy.sqlite'))).out).toMatch(/integrity is checked/);
		const db = new Database(database);
		expect(db.prepare('select name from company').get()).toEqual({ name: 'Praxis am Bach' });
		db.close();
	}, 120_000);
	it('restores what stands in the journal beside a copy too', async () => {
		await company('load', PRAXIS);
		const db = new Database(database);
		db.pragma('wal_autocheckpoint = 0');
		db.exec("update company set name = 'Renamed'");
		for (const end of ['', '-wal']) copyFileSync(database + end, at(`pair.sqlite${end}`));
		db.close();
		for (const end of ['', '-wal', '-shm']) rmSync(database + end, { force: true });
		expect((await company('restore', at('pair.sqlite'))).code).toBe(0);
		const again = new Database(database);
		expect(again.prepare('select name from company').get()).toEqual({ name: 'Renamed' });
		again.close();
	});
	it('explains itself', async () => {
		for (const args of [[], ['dance', 'now'], ['load']])
			expect(await company(...args)).toMatchObject({ code: 1, err: expect.stringMatching(/Usage:/) });
		expect(existsSync(at('now'))).toBe(false);
		// As it is called.
		const npm = spawnSync('npm', ['run', '--silent', 'company', '--', 'dance'], { encoding: 'utf8' });
		expect(npm).toMatchObject({ status: 1, stderr: expect.stringMatching(/Usage:/) });
	});
	it('refuses a damaged database instead of working on it', async () => {
		await company('load', PRAXIS);
		await company('backup', at('whole.sqlite'));
		const bytes = readFileSync(at('whole.sqlite'));
		bytes.fill(0x5a, 8192, 60_000);
		writeFileSync(database, bytes);
		const refused = await company('save', at('never'));
		expect(refused.code).not.toBe(0);
		expect(refused.err).toMatch(/damaged|malformed/);
		expect(existsSync(at('never'))).toBe(false);
	});
});
