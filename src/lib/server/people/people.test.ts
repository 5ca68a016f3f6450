import type { Knex } from 'knex';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { readCompany, readStored, writeCompany } from '../company/subjects';
import { newCompany } from '../../../../tests/support/new-company';
import { check } from '../platform/check';
import { openDatabase } from '../platform/db/connect';
import { openSession, signIn, userOfSession, type User } from '../platform/auth/sessions';
import { sentMail } from '../platform/mail';
import { HOLDS, useLink, whoseLink } from './links';
import { readOutbox } from './outbox';
import { changePerson, invite, listPeople, NewPerson, sendLink, signOutEverywhere } from './people';

const HERE = 'https://plan.lind.example';
const DAY = 86_400_000;
let db: Knex;
let ada: User;
beforeEach(async () => {
	db = await openDatabase(':memory:');
	ada = await newCompany(db);
});
afterEach(() => db.destroy());
const asAda = () => ({ db, user: ada });

const BEN = { name: 'Ben Roth', email: 'ben@lind.example', role: 'contributor', departments: ['advisory'] };
const inviteBen = (change: object = {}) => invite(asAda(), check({ ...BEN, ...change }, NewPerson), HERE);
const keyOf = ({ link }: { link: string }) => new URL(link).searchParams.get('key')!;
const stateOf = async (email: string) => (await listPeople(asAda())).find((p) => p.email === email)?.state;
const joined = async (password = 'a password') => {
	await useLink(db, keyOf(await inviteBen()), password);
};

describe('somebody who is invited', () => {
	it('chooses a password by the link in the mail, once, and is what they were invited as', async () => {
		const sent = await inviteBen({ email: ' Ben@Lind.Example ' });
		expect(sent).toMatchObject({ failure: null, waits: true });
		expect(sent.link).toMatch(/^https:\/\/plan\.lind\.example\/join\?key=[\w-]{43}$/);
		const [mail] = await sentMail(db);
		expect(mail).toMatchObject({ to: 'ben@lind.example', subject: 'Planning with Lind', sent: false });
		expect(mail.body).toContain(sent.link);
		expect(await stateOf('ben@lind.example')).toBe('invited');
		// Only a hash of it is kept where it is looked up.
		expect(JSON.stringify(await db('entry_link').select())).not.toContain(keyOf(sent));
		await expect(signIn(db, 'ben@lind.example', '', 'x')).rejects.toMatchObject({ status: 401 });

		expect(await whoseLink(db, keyOf(sent))).toEqual({ email: 'ben@lind.example', name: 'Ben Roth' });
		expect(await useLink(db, keyOf(sent), 'a password')).toEqual({ email: 'ben@lind.example', ended: [] });
		expect(await signIn(db, 'ben@lind.example', 'a password', 'x')).toEqual({
			...BEN,
			pay: false,
			departments: ['advisory']
		});
		expect(await stateOf('ben@lind.example')).toBe('active');
		await expect(useLink(db, keyOf(sent), 'another one')).rejects.toMatchObject({ status: 403 });
		await signIn(db, 'ben@lind.example', 'a password', 'x');
	});
	it('uses a link once, however many come with it at once', async () => {
		const key = keyOf(await inviteBen());
		const all = await Promise.allSettled(
			['first one', 'other one', 'third one'].map((p) => useLink(db, key, p))
		);
		expect(all.filter((a) => a.status === 'fulfilled')).toHaveLength(1);
	});
	it('cannot use one that is old, that another came after, or that never was', async () => {
		const first = keyOf(await inviteBen());
		await expect(whoseLink(db, first, Date.now() + HOLDS.invitation + 1)).rejects.toThrow(/too old/);
		await whoseLink(db, first, Date.now() + 6 * DAY);
		const second = keyOf(await sendLink(asAda(), BEN.email, HERE));
		await expect(whoseLink(db, first)).rejects.toMatchObject({ status: 403 });
		await whoseLink(db, second);
		await expect(whoseLink(db, '')).rejects.toMatchObject({ status: 403 });
	});
	it.each([
		['an e-mail that is none', { email: 'ben' }, 400, 'email'],
		['no name', { name: ' ' }, 400, 'name'],
		['a role that is none', { role: 'boss' }, 400, 'role'],
		['no department', { departments: [] }, 400, 'departments'],
		['a department that is not there', { departments: ['north'] }, 422, 'departments'],
		['an e-mail that is somebody’s', { email: 'ADA@lind.example' }, 409, 'email']
	])('is refused with %s, and nothing is sent', async (_name, change, status, column) => {
		await expect((async () => inviteBen(change))()).rejects.toMatchObject({
			status,
			faults: [expect.objectContaining({ column })]
		});
		expect(await listPeople(asAda())).toHaveLength(1);
		expect(await sentMail(db)).toEqual([]);
	});
});

describe('a new password', () => {
	it('is chosen by a link; the old one holds until then, and open sessions end', async () => {
		await joined('the old one');
		const session = await openSession(db, BEN.email);
		const sent = await sendLink(asAda(), BEN.email, HERE);
		expect((await sentMail(db))[0].subject).toBe('A new password for Lind');
		await signIn(db, BEN.email, 'the old one', 'x');
		await expect(whoseLink(db, keyOf(sent), Date.now() + 2 * DAY)).rejects.toMatchObject({ status: 403 });
		const { ended } = await useLink(db, keyOf(sent), 'the new one');
		expect(ended).toHaveLength(1);
		expect(await userOfSession(db, session)).toBeNull();
		await expect(signIn(db, BEN.email, 'the old one', 'x')).rejects.toMatchObject({ status: 401 });
		await signIn(db, BEN.email, 'the new one', 'x');
	});
});

describe('what somebody is', () => {
	it('is changed at once, wherever they are signed in, and stands in the journal', async () => {
		await joined();
		const session = await openSession(db, BEN.email);
		const told = await changePerson(asAda(), BEN.email, { role: 'reviewer', departments: ['operations'] });
		expect(told).toHaveLength(1);
		expect(await userOfSession(db, session)).toMatchObject({ role: 'reviewer', departments: ['operations'] });
		const entries = await db('journal')
			.where({ kind: 'person' })
			.orderBy('id')
			.select('subject', 'before', 'after');
		expect(entries).toEqual([
			{ subject: 'person/ben@lind.example', before: '', after: 'Ben Roth, contributor, advisory' },
			{
				subject: 'person/ben@lind.example',
				before: 'Ben Roth, contributor, advisory',
				after: 'Ben Roth, reviewer, operations'
			}
		]);
		await expect(changePerson(asAda(), BEN.email, { departments: ['north'] })).rejects.toMatchObject({
			status: 422
		});
		await expect(changePerson(asAda(), 'nobody@lind.example', { name: 'X' })).rejects.toMatchObject({
			status: 404
		});
	});
	it('disabled, signs nobody in by any door until they are let in again', async () => {
		await joined();
		const session = await openSession(db, BEN.email);
		const key = keyOf(await sendLink(asAda(), BEN.email, HERE));
		expect(await changePerson(asAda(), BEN.email, { disabled: true })).toHaveLength(1);
		expect(await stateOf(BEN.email)).toBe('disabled');
		expect(await userOfSession(db, session)).toBeNull();
		await expect(signIn(db, BEN.email, 'a password', 'x')).rejects.toMatchObject({ status: 403 });
		// Whether a user is disabled is not for who does not know the password.
		await expect(signIn(db, BEN.email, 'a guess at it', 'y')).rejects.toMatchObject({ status: 401 });
		await expect(useLink(db, key, 'another one')).rejects.toMatchObject({ status: 403 });
		await expect(sendLink(asAda(), BEN.email, HERE)).rejects.toMatchObject({ status: 409 });
		// It stays so in a copy of the company.
		const files = writeCompany(await readStored(db));
		expect(files.get('users.csv')).toContain('ben@lind.example,Ben Roth,contributor,advisory,no,disabled');
		expect(writeCompany(readCompany(files))).toEqual(files);
		await changePerson(asAda(), BEN.email, { disabled: false });
		await signIn(db, BEN.email, 'a password', 'x');
	});
	it('is nobody’s to take from themselves', async () => {
		await expect(changePerson(asAda(), ada.email, { disabled: true })).rejects.toThrow(/your own right/);
		await expect(changePerson(asAda(), ada.email, { role: 'viewer' })).rejects.toMatchObject({ status: 409 });
		await changePerson(asAda(), ada.email, { name: 'Ada Lind-Roth' });
		expect((await listPeople(asAda()))[0]).toMatchObject({ name: 'Ada Lind-Roth', role: 'analyst' });
	});
	it('is looked after by analysts alone', async () => {
		await joined();
		const asBen = { db, user: { ...BEN, role: 'contributor' as const, pay: false } };
		for (const asked of [
			listPeople(asBen),
			readOutbox(asBen),
			invite(asBen, check({ ...BEN, email: 'c@lind.example' }, NewPerson), HERE),
			sendLink(asBen, ada.email, HERE),
			changePerson(asBen, BEN.email, { role: 'analyst' }),
			signOutEverywhere(asBen, ada.email)
		])
			await expect(asked).rejects.toMatchObject({ status: 403 });
	});
	it('comes to see individual pay by nobody but who sees it', async () => {
		await joined();
		await changePerson(asAda(), BEN.email, { role: 'analyst' });
		const asBen = { db, user: (await userOfSession(db, await openSession(db, BEN.email)))! };
		expect(asBen.user.pay).toBe(false);
		const cleo = check({ ...BEN, email: 'cleo@lind.example', pay: true }, NewPerson);
		const before = await listPeople(asAda());
		for (const asked of [
			changePerson(asBen, BEN.email, { pay: true }),
			changePerson(asBen, ada.email, { pay: false }),
			invite(asBen, cleo, HERE),
			sendLink(asBen, ada.email, HERE)
		])
			await expect(asked).rejects.toMatchObject({ status: 403 });
		expect(await listPeople(asAda())).toEqual(before);
		// Nor by the link of somebody who does, while it waits.
		const sent = await invite(asAda(), cleo, HERE);
		const told = async (user: User) => JSON.stringify((await readOutbox({ db, user })).mail);
		expect(await told(ada)).toContain(keyOf(sent));
		expect(await told(asBen.user)).not.toContain(keyOf(sent));
		await changePerson(asAda(), BEN.email, { pay: true });
		expect(await userOfSession(db, await openSession(db, BEN.email))).toMatchObject({ pay: true });
	});
	it('is signed out everywhere', async () => {
		await joined();
		const sessions = [await openSession(db, BEN.email), await openSession(db, BEN.email)];
		const own = await openSession(db, ada.email);
		expect((await listPeople(asAda())).map((p) => p.sessions)).toEqual([1, 2]);
		expect(await signOutEverywhere(asAda(), BEN.email)).toHaveLength(2);
		for (const s of sessions) expect(await userOfSession(db, s)).toBeNull();
		expect(await userOfSession(db, own)).toMatchObject({ name: 'Ada Lind' });
	});
	it('that would show figures of a scenario that they may not see is refused', async () => {
		await joined();
		// What only Ada sees, and beneath it what finance sees.
		await db('scenario').insert({
			...(await db('scenario').first()),
			code: 'own',
			name: 'Own',
			visibility: 'people',
			owner: ada.email
		});
		await db('scenario').where({ code: 'fy27-budget' }).update({ visibility: 'finance', follows: 'own' });
		await expect(changePerson(asAda(), BEN.email, { role: 'analyst' })).rejects.toThrow(
			/rest on .*Ben Roth/s
		);
		expect((await listPeople(asAda()))[1].role).toBe('contributor');
	});
});

describe('mail', () => {
	let server: Server;
	let heard = '';
	const before = process.env.YARDSTAVE_SMTP;
	/** A mail server of four commands (RFC 5321). */
	beforeEach(async () => {
		heard = '';
		server = createServer((socket) => {
			let inData = false;
			socket.setEncoding('utf8');
			socket.write('220 here\r\n');
			socket.on('data', (text: string) => {
				heard += text;
				if (inData) {
					if (!text.endsWith('\r\n.\r\n')) return;
					inData = false;
					socket.write('250 taken\r\n');
				} else if (text.startsWith('DATA')) {
					inData = true;
					socket.write('354 go on\r\n');
				} else socket.write(text.startsWith('QUIT') ? '221 bye\r\n' : '250 good\r\n');
			});
		});
		await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
		process.env.YARDSTAVE_SMTP = `smtp://127.0.0.1:${(server.address() as AddressInfo).port}`;
	});
	afterEach(() => {
		if (before === undefined) delete process.env.YARDSTAVE_SMTP;
		else process.env.YARDSTAVE_SMTP = before;
		server.close();
	});

	it('goes through the mail server where there is one, and is kept without its key', async () => {
		const sent = await inviteBen();
		expect(sent).toMatchObject({ failure: null, waits: false });
		expect(heard).toMatch(/RCPT TO:<ben@lind\.example>/);
		expect(heard.replaceAll('=\r\n', '').replaceAll('=3D', '=')).toContain(keyOf(sent));
		const { mail, server: through } = await readOutbox(asAda());
		expect([through, mail[0].sent]).toEqual([true, true]);
		expect(mail[0].body).not.toContain(keyOf(sent));
	});
	it('that cannot be sent is said, and the invitation holds', async () => {
		server.close();
		const sent = await inviteBen();
		expect(sent.failure).toMatch(/ECONNREFUSED/);
		expect((await readOutbox(asAda())).mail[0]).toMatchObject({ sent: false, failure: sent.failure });
		await useLink(db, keyOf(sent), 'a password');
	});
});
