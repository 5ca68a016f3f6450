/** The doors of the running server: headers of every answer, signing in and out, streams, sizes of what is sent. */
import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { DEMO } from '../support/company';

const MAREN = 'maren.holt@kelpwick.example';
const BETH = 'beth.crane@kelpwick.example';
let app: App;
let maren: Client;
let beth: Client;
beforeAll(async () => {
	app = await startApp(DEMO);
	[maren, beth] = [await Client.signIn(app, MAREN), await Client.signIn(app, BETH)];
});
afterAll(() => app.stop());

const BUDGET = 'scenario=fy28-budget&department=dealer-sales&from=2027-04&to=2028-03';
const asNobody = (path: string, init: RequestInit = {}) =>
	fetch(app.url + path, { redirect: 'manual', ...init });

describe('an address without all of its selection', () => {
	it('is completed before its page is made, within the application too, and leads nobody to what is not theirs', async () => {
		const whole = '/compare?scenario=actuals&department=kelpwick&from=2026-04&to=2027-03';
		const answer = await maren.fetch('/compare?scenario=actuals');
		expect([answer.status, answer.headers.get('location')]).toEqual([307, whole]);
		const within = await maren.fetch('/compare/__data.json?scenario=actuals');
		expect(await within.json()).toEqual({ type: 'redirect', location: whole });
		expect((await maren.fetch(whole)).status).toBe(200);
		const petra = await Client.signIn(app, 'petra.lind@kelpwick.example');
		const theirs = await petra.fetch('/plan?scenario=fy28-budget&department=dealer-sales&from=2027-04');
		expect(theirs.headers.get('location')).toMatch(
			/^\/plan\?scenario=fy28-budget&department=(?!dealer-sales)/
		);
	});
});

describe('every answer', () => {
	it('with figures or on the way to them is kept by nobody, and runs nothing that is not ours', async () => {
		const answers = [
			await maren.fetch(`/plan?${BUDGET}`),
			await maren.fetch(`/plan/__data.json?${BUDGET}`),
			await maren.fetch('/plan'),
			await maren.fetch('/'),
			await maren.fetch('/nowhere'),
			await maren.fetch('/api/v1/me'),
			await maren.fetch('/api/v1/plan?scenario=none&department=x&from=2027-04&to=2027-05'),
			await maren.fetch('/api/v1/nowhere'),
			await maren.fetch(
				`/api/v1/variance?scenario=actuals&against=last-year&department=kelpwick&period=2026-09&format=csv`
			),
			await asNobody('/plan'),
			await asNobody('/api/v1/me'),
			await asNobody('/signin'),
			await asNobody('/signout', { method: 'POST', headers: { origin: app.url } }),
			await asNobody('/signin?/demo', {
				method: 'POST',
				headers: { origin: app.url, 'content-type': 'application/x-www-form-urlencoded' },
				body: 'email=x'
			})
		];
		for (const answer of answers) {
			const told = `${answer.url} ${answer.status}`;
			expect(answer.headers.get('cache-control'), told).toBe('no-store');
			expect(answer.headers.get('x-content-type-options'), told).toBe('nosniff');
			expect(answer.headers.get('referrer-policy'), told).toBe('same-origin');
			expect(answer.headers.get('content-security-policy'), told).toMatch(/frame-ancestors 'none'/);
			expect(answer.headers.get('strict-transport-security'), told).toBeNull();
			await answer.text();
		}
	});
	it('through HTTPS asks for HTTPS from then on', async () => {
		const secure = await startApp(DEMO, { ORIGIN: 'https://plan.example' });
		try {
			for (const path of ['/signin', '/plan', '/api/v1/me'])
				expect(
					(await fetch(secure.url + path, { redirect: 'manual' })).headers.get('strict-transport-security')
				).toBe('max-age=31536000');
		} finally {
			await secure.stop();
		}
	});
});

describe('signing in', () => {
	const post = (fields: Record<string, string>, action = 'demo') =>
		asNobody(`/signin?/${action}`, {
			method: 'POST',
			headers: {
				origin: app.url,
				accept: 'text/html',
				'content-type': 'application/x-www-form-urlencoded'
			},
			body: new URLSearchParams(fields)
		});
	it('keeps through the form where to go afterwards, and goes to paths of this application alone', async () => {
		const asked = await asNobody(`/plan?${BUDGET}`);
		const page = await (await asNobody(asked.headers.get('location')!)).text();
		const kept = /name="to" value="([^"]*)"/.exec(page)![1].replaceAll('&amp;', '&');
		expect(kept).toBe(`/plan?${BUDGET}`);
		const target = async (to: string) => (await post({ email: MAREN, to })).headers.get('location');
		expect(await target(kept)).toBe(kept);
		for (const to of [
			'//elsewhere.example',
			'/\t/elsewhere.example',
			'/\\elsewhere.example',
			'https://elsewhere.example'
		])
			expect(await target(to)).toBe('/');
		expect(await target('/plan?find=Büro\u{1F6F6}')).toBe('/plan?find=B%C3%BCro%F0%9F%9B%B6');
		const failed = await (await post({ email: 'nobody@kelpwick.example', to: kept })).text();
		expect(failed).toContain(`value="${kept.replaceAll('&', '&amp;')}"`);
	});
	it('is no error of the server whatever bytes the address has', async () => {
		for (const path of [
			'/signin?to=%ff%fe',
			'/signin?to=%00',
			'/%ff',
			'/plan?scenario=%E0%A4%A',
			'/signin?to=/%0d%0aset-cookie:x=1'
		])
			expect((await asNobody(path)).status, path).toBeLessThan(500);
	});
	it('refuses a body larger than a form, and inputs longer than any', async () => {
		const large = await post({ email: 'x'.repeat(20_000), password: 'y' }, 'password');
		expect(await large.text()).toMatch(/larger than 16 kB/);
		expect((await post({ email: 'x'.repeat(300), password: 'y' }, 'password')).status).toBe(401);
	});
	it('counts attempts before it looks at passwords: of forty at once five are looked at', async () => {
		const answers = await Promise.all(
			Array.from({ length: 40 }, () => post({ email: MAREN, password: 'a wrong one' }, 'password'))
		);
		const texts = await Promise.all(answers.map((a) => a.text()));
		expect(texts.filter((t) => t.includes('do not belong together'))).toHaveLength(5);
		expect(texts.filter((t) => t.includes('Too many attempts'))).toHaveLength(35);
	});
});

/** What a stream of events says until it ends. */
async function listen(
	client: Client,
	scenario: string
): Promise<{ said: () => string; ended: Promise<void> }> {
	const answer = await client.fetch(`/api/v1/events?scenario=${scenario}&tab=x&at=/plan`);
	expect(answer.status).toBe(200);
	const reader = answer.body!.getReader();
	let text = '';
	const first = await reader.read();
	text += Buffer.from(first.value!).toString();
	const ended = (async () => {
		for (;;) {
			const { done, value } = await reader.read();
			if (done) return;
			text += Buffer.from(value).toString();
		}
	})();
	return { said: () => text, ended };
}

describe('a stream of events', () => {
	// At once, not when all streams are looked through, which is every 25 seconds.
	it('ends when its session ends', { timeout: 15_000 }, async () => {
		const guest = await Client.signIn(app, BETH);
		const stream = await listen(guest, 'fy28-budget');
		await guest.fetch('/signout', { method: 'POST' });
		await stream.ended;
		expect((await guest.fetch('/api/v1/events?scenario=fy28-budget&tab=x&at=/plan')).status).toBe(401);
	});
	it('ends when the scenario is hidden from who listens, without a word of what is saved then', async () => {
		const stream = await listen(beth, 'dearer-kayaks');
		const hidden = await maren.fetch('/api/v1/scenarios/dearer-kayaks', {
			method: 'PATCH',
			headers: { 'content-type': 'application/json' },
			body: JSON.stringify({ visibility: 'people', people: [] })
		});
		expect(hidden.status).toBe(200);
		await stream.ended;
		expect(stream.said()).not.toMatch(/event: saved/);
	});
});

describe('what is sent', () => {
	/** Sends so many bytes without saying how many; answers the status, and how many milliseconds went before it came. */
	const stream = (client: Client, path: string, bytes: number) =>
		new Promise<{ status: number; sent: number }>((done, failed) => {
			let sent = 0;
			const req = request(app.url + path, {
				method: 'POST',
				headers: {
					...client.headers,
					'content-type': 'application/json',
					'transfer-encoding': 'chunked'
				}
			});
			const part = Buffer.alloc(64 * 1024, '{}');
			const write = () => {
				while (sent < bytes) {
					sent += part.length;
					if (!req.write(part)) return void req.once('drain', write);
				}
				req.end();
			};
			req.once('response', (res) => {
				done({ status: res.statusCode!, sent });
				res.resume();
				req.destroy();
			});
			req.once('error', failed);
			write();
		});
	const SIXTY_MB = 60 * 1024 * 1024;
	it('is not read from those who may not', async () => {
		const cells = await stream(beth, '/api/v1/scenarios/fy28-budget/cells', SIXTY_MB);
		expect(cells.status).toBe(403);
		expect(cells.sent).toBeLessThan(SIXTY_MB / 4);
		const preferences = await stream(beth, '/api/v1/me/preferences', SIXTY_MB);
		expect(preferences.status).toBe(413);
		expect(preferences.sent).toBeLessThan(SIXTY_MB / 4);
	});
	it('has its own size on each route, and says so', async () => {
		const answer = await maren.post('trace', { scenario: 'x'.repeat(5000), ref: {} });
		expect(answer.status).toBe(413);
		expect(answer.error!.message).toMatch(/larger than 4 kB/);
	});
	it('is refused at its place where a window, a list or a depth has no end', async () => {
		const account = { kind: 'account', account: '6240', department: 'dealer-sales' };
		const shown = { department: 'dealer-sales', accounts: null };
		const preview = { scenario: 'fy28-budget', from: '2027-04', to: '2028-03', edits: [] };
		const refusals = [
			await maren.post('trace', {
				scenario: 'fy28-budget',
				ref: { ...account, from: '1900-06', to: '2199-06' }
			}),
			await maren.post('trace', {
				scenario: 'fy28-budget',
				ref: { ...account, from: '2027-04', to: '2037-04' }
			}),
			await maren.get('plan?scenario=fy28-budget&department=kelpwick&from=0001-01&to=9999-12'),
			await maren.get('plan?scenario=fy28-budget&department=kelpwick&from=2027-04&to=2037-04'),
			await maren.get('plan?scenario=fy28-budget&department=kelpwick&from=2027-04&to=2027-03'),
			await maren.get('models/boat_sales?scenario=fy28-budget&from=2027-04&to=2037-04'),
			await maren.post('plan/preview', { ...preview, shown: Array(1000).fill(shown) }),
			await maren.post('plan/preview', { ...preview, to: '2110-08', shown: [shown] }),
			await maren.post('models/boat_sales/rows', { action: 'add', rows: [Array(7).fill('x')] })
		];
		for (const r of refusals) {
			expect(r.status).toBe(400);
			expect(r.error!.faults.length).toBeGreaterThan(0);
		}
		expect(refusals[6].error!.faults[0]).toEqual({ message: 'each department once', column: 'shown' });
		const deep = await maren.fetch('/api/v1/trace', {
			method: 'POST',
			headers: { 'content-type': 'application/json' },
			body: '['.repeat(2000) + ']'.repeat(2000)
		});
		expect(deep.status).toBe(400);
	});
	it('is JSON in UTF-8', async () => {
		const send = (body: BodyInit) =>
			maren.fetch('/api/v1/dimensions', {
				method: 'POST',
				headers: { 'content-type': 'application/json' },
				body
			});
		expect((await send(Buffer.from('{"name":"B\xfcro"}', 'latin1'))).status).toBe(400);
		const lone = await send('{"name":"half \\ud83d"}');
		expect(lone.status).toBe(400);
		expect(await lone.text()).toMatch(/U\+D83D/);
		expect((await send('{"name":"turned \\u202e"}')).status).toBe(400);
	});
});
