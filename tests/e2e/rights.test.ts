/** Every page and every API route, as every role and as nobody. A route that is not in the table fails the test. */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { WHO, type Role, ROLES, ALL, COMPANY, type Request, API } from '../support/requests';

const PAGES: Record<string, { path: string; open: Role[] }[]> = {
	'(app)/plan': [
		{ path: '/plan', open: ALL },
		{ path: '/plan?department=dealer-sales', open: ALL }
	],
	'(app)/plan/targets': [{ path: '/plan/targets', open: ALL }],
	'(app)/plan/schedules': [{ path: '/plan/schedules', open: ALL }],
	'(app)/plan/schedules/[schedule]': [{ path: '/plan/schedules/staff', open: ALL }],
	'(app)/plan/schedules/[schedule]/design': [{ path: '/plan/schedules/staff/design', open: ['analyst'] }],
	'(app)/compare': [{ path: '/compare', open: ALL }],
	'(app)/collect': [{ path: '/collect', open: ALL }],
	'(app)/drivers': [{ path: '/drivers', open: COMPANY }],
	'(app)/drivers/[model]': [{ path: '/drivers/boat_sales', open: COMPANY }],
	'(app)/drivers/[model]/design': [{ path: '/drivers/boat_sales/design', open: COMPANY }],
	'(app)/drivers/members': [{ path: '/drivers/members', open: COMPANY }],
	'(app)/drivers/profiles': [{ path: '/drivers/profiles', open: COMPANY }],
	'(app)/drivers/combinations': [{ path: '/drivers/combinations', open: COMPANY }],
	'(app)/forecast': [{ path: '/forecast', open: COMPANY }],
	'(app)/forecast/history': [{ path: '/forecast/history', open: COMPANY }],
	'(app)/forecast/what-if': [{ path: '/forecast/what-if', open: COMPANY }],
	'(app)/setup/feed': [{ path: '/setup/feed', open: ['analyst'] }],
	'(app)/setup/map': [{ path: '/setup/map', open: ['analyst'] }],
	'(app)/setup/company': [{ path: '/setup/company', open: ['analyst'] }],
	'(app)/setup/accounts': [{ path: '/setup/accounts', open: ['analyst'] }],
	'(app)/setup/currencies': [{ path: '/setup/currencies', open: ['analyst'] }],
	'(app)/setup/departments': [{ path: '/setup/departments', open: ['analyst'] }],
	'(app)/setup/people': [{ path: '/setup/people', open: ['analyst'] }],
	'(app)/setup/mail': [{ path: '/setup/mail', open: ['analyst'] }]
};
/** Pages that only lead on, or are open to all. */
const LEADING = ['', '(app)/setup', 'begin', 'join', 'signin'];

function routes(folder: string, file: string): string[] {
	const found: string[] = [];
	const visit = (path: string) => {
		for (const entry of readdirSync(join(folder, path), { withFileTypes: true }))
			if (entry.isDirectory()) visit(join(path, entry.name));
			else if (entry.name === file) found.push(path);
	};
	visit('');
	return found.sort();
}

let app: App;
const people = new Map<Role | 'nobody', Client>();
beforeAll(async () => {
	app = await startApp('demo/company');
	for (const role of ROLES) people.set(role, await Client.signIn(app, WHO[role]));
	people.set('nobody', await Client.signIn(app, null));
});
afterAll(() => app?.stop());

/** A page is led to its full address first. */
async function follow(client: Client, path: string): Promise<Response> {
	const answer = await client.fetch(path);
	return answer.status === 307 ? follow(client, answer.headers.get('location')!) : answer;
}

function ask(client: Client, r: Request): Promise<Response> {
	const path = `/api/v1/${r.path}`;
	if (r.method === 'GET') return client.fetch(path);
	if (!r.file)
		return client.fetch(path, {
			method: r.method,
			headers: { 'content-type': 'application/json' },
			body: JSON.stringify(r.body)
		});
	const form = new FormData();
	form.set('file', new File(['Date,Account\n2026-10-01,1\n'], 'x.csv'));
	form.set('request', JSON.stringify(r.body));
	return client.fetch(path, { method: 'POST', body: form });
}

/** Names under which answers have periods: a number there would count them. */
const PERIODS = new Set(
	'period month first last from to open reaches closedThrough actualsThrough'.split(' ')
);
/** Where an answer counts periods, as a path in it. */
function countedIn(value: unknown, path = ''): string[] {
	if (typeof value !== 'object' || value === null) return [];
	return Object.entries(value).flatMap(([name, v]) =>
		// The form of a calendar, places in a formula's text, and units are no periods.
		name === 'calendar' || name === 'span' || name === 'unit'
			? []
			: typeof v === 'number' && PERIODS.has(name)
				? [`${path}.${name}`]
				: countedIn(v, `${path}.${name}`)
	);
}

describe('the tables name', () => {
	it('every API route', () => {
		expect(routes('src/routes/api/v1', '+server.ts')).toEqual(Object.keys(API).sort());
	});
	it('every page', () => {
		expect(routes('src/routes', '+page.svelte')).toEqual([...Object.keys(PAGES), ...LEADING].sort());
	});
});

describe.each(
	Object.entries(API).flatMap(([, list]) => list.map((r) => [`${r.method} ${r.path}`, r] as const))
)('%s', (_name, r) => {
	it.each(ROLES)('as %s', async (role) => {
		const answer = await ask(people.get(role)!, r);
		expect(answer.status).toBe(r.open.includes(role) ? r.status : 403);
		if (answer.status >= 400) expect((await answer.json()).error.message).toMatch(/\w+ \w+/);
		else if (/json/.test(answer.headers.get('content-type') ?? ''))
			expect(countedIn(await answer.json()), 'periods that are counted').toEqual([]);
	});
	it('as nobody', async () => {
		expect((await ask(people.get('nobody')!, r)).status).toBe(401);
	});
});

describe.each(Object.entries(PAGES).flatMap(([, list]) => list.map((p) => [p.path, p] as const)))(
	'page %s',
	(path, p) => {
		it.each(ROLES)('as %s', async (role) => {
			const answer = await follow(people.get(role)!, path);
			expect(answer.status).toBe(p.open.includes(role) ? 200 : 403);
		});
		it('as nobody leads to the sign-in', async () => {
			const answer = await people.get('nobody')!.fetch(path);
			expect(answer.status).toBe(303);
			expect(answer.headers.get('location')).toMatch(/^\/signin\?to=/);
		});
	}
);

describe('what must never happen', () => {
	it('a contributor sees no other department’s figures, by any door', async () => {
		const tom = people.get('contributor')!;
		const page = await (await follow(tom, '/plan?department=finance-people')).text();
		expect(page).not.toContain('Finance &amp; People</option>');
		expect(
			(await tom.get('rounds')).rounds[0].submissions.map((s: { department: string }) => s.department)
		).toEqual(['dealer-sales', 'direct-web']);
		const csv = await tom.fetch(
			'/api/v1/variance?scenario=actuals&against=last-year&department=finance-people&period=2026-09&format=csv'
		);
		expect(csv.status).toBe(403);
	});
	it('sessions end at sign-out, and are not taken from another site', async () => {
		const client = await Client.signIn(app, WHO.viewer);
		expect((await client.get('me')).name).toBe('Beth Crane');
		const foreign = await client.fetch('/signout', {
			method: 'POST',
			headers: { origin: 'http://elsewhere.example', 'content-type': 'application/x-www-form-urlencoded' },
			body: ''
		});
		expect(foreign.status).toBe(403);
		await client.fetch('/signout', {
			method: 'POST',
			headers: { 'content-type': 'application/x-www-form-urlencoded' },
			body: ''
		});
		expect((await client.get('me')).status).toBe(401);
	});
	it('one click does not sign in outside the demo, and passwords are throttled', async () => {
		const real = await startApp('tests/companies/praxis', { YARDSTAVE_DEMO: '' });
		try {
			const form = (action: string, fields: Record<string, string>) =>
				fetch(`${real.url}/signin?/${action}`, {
					method: 'POST',
					redirect: 'manual',
					headers: { origin: real.url, accept: 'application/json', 'x-sveltekit-action': 'true' },
					body: new URLSearchParams(fields)
				});
			const clicked = await form('demo', { email: 'ana@praxis.example' });
			expect(clicked.headers.getSetCookie()).toEqual([]);
			expect(await clicked.text()).toMatch(/demo alone/);
			for (let i = 0; i < 5; i++)
				expect(
					await (await form('password', { email: 'ana@praxis.example', password: 'wrong' })).text()
				).toMatch(/do not belong together/);
			expect(
				await (await form('password', { email: 'ana@praxis.example', password: 'wrong' })).text()
			).toMatch(/Too many attempts/);
		} finally {
			await real.stop();
		}
	});
	it('headers keep others from framing or guessing', async () => {
		const answer = await follow(people.get('viewer')!, '/compare');
		expect(answer.headers.get('content-security-policy')).toMatch(
			/script-src 'self' 'nonce-.*frame-ancestors 'none'/
		);
		expect(answer.headers.get('x-content-type-options')).toBe('nosniff');
		const set = (
			await fetch(`${app.url}/signin?/demo`, {
				method: 'POST',
				redirect: 'manual',
				headers: { origin: app.url },
				body: new URLSearchParams({ email: WHO.viewer })
			})
		).headers.getSetCookie()[0];
		expect(set).toMatch(/HttpOnly/i);
		expect(set).toMatch(/SameSite=Lax/i);
	});
});
