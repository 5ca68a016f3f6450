/** An empty database, uploads that are too large, a server that is killed, a session that has ended. */
import { readFileSync } from 'node:fs';
import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';

const ANALYST = 'maren.holt@kelpwick.example';
const OCTOBER = readFileSync('demo/inbox/ledger-2026-10.csv', 'utf8');

const typed = { block: 'accounts', line: '6240', row: 'dealer-sales', period: '2027-04', before: null };
describe('with nothing in the database', () => {
	it('the sign-in page says what to do next', async () => {
		const app = await startApp(null);
		try {
			const page = await (await fetch(`${app.url}/signin`)).text();
			expect(page).toContain('There is no company here yet');
			expect(page).toContain('npm run company -- load');
		} finally {
			await app.stop();
		}
	});
});

describe('a server under stress', () => {
	let app: App;
	let maren: Client;
	beforeAll(async () => {
		app = await startApp('demo/company');
		maren = await Client.signIn(app, ANALYST);
	});
	afterAll(() => app?.stop());

	it('refuses a 200 MB file with a clear word, and goes on', async () => {
		const size = 200 * 1024 * 1024;
		const cookie = (maren as unknown as { cookie: string }).cookie;
		const answer = await new Promise<{ status: number; text: string }>((done, fail) => {
			const { hostname, port } = new URL(app.url);
			const call = request(
				{
					hostname,
					port,
					path: '/api/v1/feeds/preview',
					method: 'POST',
					headers: {
						'content-type': 'multipart/form-data; boundary=x',
						'content-length': size,
						cookie,
						origin: app.url
					}
				},
				(r) => {
					let text = '';
					r.on('data', (d) => (text += d));
					r.on('end', () => done({ status: r.statusCode!, text }));
				}
			);
			call.on('error', fail);
			// The refusal comes before the file has been sent.
			call.write('--x\r\n');
		});
		expect(answer.status).toBe(413);
		expect(JSON.parse(answer.text).error.message).toMatch(/larger than 128 MB/);
		expect((await maren.get('me')).status).toBe(200);
	});

	it('answers wrong requests with their places', async () => {
		const r = await maren.post('scenarios/fy28-budget/cells', {
			edits: [{ ...typed, period: 'soon', value: 1 }]
		});
		expect(r.status).toBe(400);
		expect(r.error!.faults[0].column).toBe('edits.0.period');
		expect((await maren.get('plan?scenario=none&department=kelpwick&from=2026-04&to=2027-03')).status).toBe(
			404
		);
		expect(
			(await maren.get('plan?scenario=fy28-budget&department=none&from=2026-04&to=2027-03')).status
		).toBe(404);
		expect(
			(await maren.get('plan?scenario=fy28-budget&department=kelpwick&from=April&to=2027-03')).error!
				.faults[0].message
		).toMatch(/“April” is no month/);
		const binary = await maren.send('feeds/preview', 'x.xlsx', 'PK\u0000\u0003', {});
		expect(binary.error!.message).toMatch(/no text file/);
	});

	it('ends when it is told to, while a page listens', async () => {
		const own = await startApp('demo/company');
		try {
			const tom = await Client.signIn(own, ANALYST);
			const listening = await tom.fetch('/api/v1/events?scenario=fy28-budget&tab=x&at=/plan');
			expect(listening.status).toBe(200);
			const ended = new Promise<number | null>((done) => own.process.once('exit', done));
			own.process.kill('SIGTERM');
			expect(await ended).toBe(0);
		} finally {
			await own.stop();
		}
	});

	it('killed at any moment of a load, has all of it or nothing, and every save it acknowledged', async () => {
		const { options } = await maren.send('feeds/preview', 'october.csv', OCTOBER, {});
		const saved = await maren.post('scenarios/fy28-budget/cells', {
			edits: [{ ...typed, value: 4321 }]
		});
		expect(saved.saved).toBe(1);
		const lines = OCTOBER.trim().split('\n').length - 1;
		for (const wait of [0, 15, 40, 80]) {
			const running = maren
				.send('feeds/run', 'october.csv', OCTOBER, { options, month: '2026-10', map: {} })
				.catch(() => null);
			await new Promise((r) => setTimeout(r, wait));
			app = await app.restart();
			await running;
			maren = await Client.signIn(app, ANALYST);
			const runs = (await maren.get('feeds/runs')).runs.filter(
				(r: { period: string }) => r.period === '2026-10'
			);
			const preview = await maren.send('feeds/preview', 'october.csv', OCTOBER, {});
			expect([0, lines]).toContain(preview.replaces);
			expect(runs.length > 0).toBe(preview.replaces === lines);
			const plan = await maren.get(
				'plan?scenario=fy28-budget&department=dealer-sales&from=2027-04&to=2027-04'
			);
			expect(plan.rows.find((r: { account: string }) => r.account === '6240').cells).toEqual([4321]);
		}
	});

	it('keeps what was typed when the session ends or the server is away', async () => {
		const p = await Person.open();
		try {
			await p.signIn(app.url, ANALYST);
			await p.go(`${app.url}/plan?scenario=fy28-budget&department=dealer-sales`);
			await (await p.cell('6240', '2027-05')).click();
			await p.keys('777', Key.ENTER);
			await p.driver.manage().deleteAllCookies();
			await p.click('button', 'Save');
			await p.told(/session has ended/);
			await p.says('.count', /1 cell not saved/);
			expect(await p.cellText('6240', '2027-05')).toBe('777');
			app.process.kill('SIGKILL');
			await p.click('button', 'Save');
			await p.told(/cannot be reached/);
			await p.says('.count', /1 cell not saved/);
		} finally {
			await p.close();
		}
	});
});
