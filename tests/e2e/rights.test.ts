/** Every page and every API route, as every role and as nobody. A route that is not in the table fails the test. */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';

const WHO = {
	analyst: 'maren.holt@kelpwick.example',
	reviewer: 'oliver.strand@kelpwick.example',
	contributor: 'tom.aldous@kelpwick.example',
	viewer: 'beth.crane@kelpwick.example'
} as const;
type Role = keyof typeof WHO;
const ROLES = Object.keys(WHO) as Role[];
const ALL: Role[] = ROLES;
const COMPANY: Role[] = ['analyst', 'reviewer', 'viewer'];

interface Request {
	method: 'GET' | 'POST' | 'PATCH' | 'DELETE';
	path: string;
	body?: unknown;
	file?: boolean;
	/** Who gets through; all others are refused with 403. */
	open: Role[];
	/** What those who get through are answered. */
	status: number;
}
const S = 'scenario=fy28-budget';
const W = 'from=2027-04&to=2028-03';
const own = { scenario: 'fy28-budget', department: 'dealer-sales' };
const other = { scenario: 'fy28-budget', department: 'rigging' };
const cell = { account: '6240', period: 2027 * 12 + 3, before: null, value: 1 };

const place = { block: 'ledger', line: '6240', row: 'dealer-sales', period: 2027 * 12 + 3 };
const ACCOUNT = `block=ledger&line=6240&period=${2027 * 12 + 3}`;

const badRule = {
	code: 'x',
	name: 'x',
	on: true,
	effect: 'block',
	lead: { dimension: 'none', under: ['x'] },
	others: [{ dimension: 'product', under: ['kayaks'] }]
};

/** What is asked of each route. Requests that would change something are made so that they fail after the question of rights. */
const API: Record<string, Request[]> = {
	me: [{ method: 'GET', path: 'me', open: ALL, status: 200 }],
	'me/preferences': [
		{ method: 'GET', path: 'me/preferences', open: ALL, status: 200 },
		{ method: 'POST', path: 'me/preferences', body: { density: 'none' }, open: ALL, status: 400 }
	],
	scenarios: [
		{ method: 'GET', path: 'scenarios', open: ALL, status: 200 },
		{
			method: 'POST',
			path: 'scenarios',
			body: { from: 'none', name: 'x', kind: 'what-if' },
			open: ['analyst'],
			status: 404
		}
	],
	'scenarios/[code]/package': [
		{ method: 'GET', path: 'scenarios/fy28-budget/package', open: COMPANY, status: 200 }
	],
	'scenarios/[code]/lock': [
		{ method: 'POST', path: 'scenarios/none/lock', body: { locked: true }, open: ['analyst'], status: 404 }
	],
	'scenarios/[code]': [
		{ method: 'PATCH', path: 'scenarios/none', body: { name: 'x' }, open: ['analyst'], status: 404 },
		{ method: 'DELETE', path: 'scenarios/none', open: ['analyst'], status: 404 }
	],
	'scenarios/[code]/restore': [
		{ method: 'POST', path: 'scenarios/none/restore', body: {}, open: ['analyst'], status: 404 }
	],
	'scenarios/[code]/adjustments': [
		{ method: 'GET', path: 'scenarios/dearer-kayaks/adjustments', open: COMPANY, status: 200 },
		{
			method: 'POST',
			path: 'scenarios/dearer-kayaks/adjustments',
			body: { action: 'remove', code: 'none' },
			open: ['analyst'],
			status: 404
		}
	],
	'scenarios/[code]/adjustments/adopt': [
		{
			method: 'POST',
			path: 'scenarios/dearer-kayaks/adjustments/adopt',
			body: { codes: ['none'] },
			open: ['analyst'],
			status: 404
		}
	],
	'scenarios/[code]/history': [
		{ method: 'GET', path: 'scenarios/dearer-kayaks/history', open: COMPANY, status: 200 }
	],
	'scenarios/[code]/history/as-of': [
		{
			method: 'POST',
			path: 'scenarios/dearer-kayaks/history/as-of',
			body: { batch: 'none' },
			open: ['analyst'],
			status: 404
		}
	],
	'scenarios/[code]/history/undo': [
		{
			method: 'POST',
			path: 'scenarios/dearer-kayaks/history/undo',
			body: { batch: 'none' },
			open: ['analyst'],
			status: 404
		}
	],
	events: [{ method: 'GET', path: 'events?scenario=none&tab=x&at=/plan', open: ALL, status: 404 }],
	notes: [
		{ method: 'GET', path: `notes?${S}&${ACCOUNT}&row=dealer-sales`, open: ALL, status: 200 },
		{ method: 'GET', path: `notes?${S}&${ACCOUNT}&row=rigging`, open: COMPANY, status: 200 },
		{
			method: 'POST',
			path: 'notes',
			body: { scenario: 'fy28-budget', cell: place, text: 'x', answers: 999_999 },
			open: ['analyst', 'reviewer', 'contributor'],
			status: 404
		}
	],
	'notes/[id]': [{ method: 'DELETE', path: 'notes/999999', open: ALL, status: 404 }],
	'notes/items': [
		{
			method: 'POST',
			path: 'notes/items',
			body: {
				scenario: 'fy28-budget',
				cell: place,
				before: 5,
				items: [{ description: 'x', quantity: null, rate: null, amount: 1 }]
			},
			open: ['analyst', 'contributor'],
			status: 409
		}
	],
	'notes/attachments': [
		{
			method: 'POST',
			path: 'notes/attachments',
			body: { scenario: 'fy28-budget', cell: { ...place, line: 'none' } },
			file: true,
			open: ['analyst', 'reviewer', 'contributor'],
			status: 404
		}
	],
	'notes/attachments/[id]': [
		{ method: 'GET', path: 'notes/attachments/999999', open: ALL, status: 404 },
		{ method: 'DELETE', path: 'notes/attachments/999999', open: ALL, status: 404 }
	],
	plan: [
		{ method: 'GET', path: `plan?${S}&department=dealer-sales&${W}`, open: ALL, status: 200 },
		{ method: 'GET', path: `plan?${S}&department=rigging&${W}`, open: COMPANY, status: 200 },
		{ method: 'GET', path: `plan?${S}&department=kelpwick&${W}`, open: COMPANY, status: 200 }
	],
	'plan/cells': [
		{
			method: 'POST',
			path: 'plan/cells',
			body: { ...own, edits: [{ ...cell, account: 'none' }] },
			open: ['analyst', 'contributor'],
			status: 422
		},
		{
			method: 'POST',
			path: 'plan/cells',
			body: { ...other, edits: [{ ...cell, account: 'none' }] },
			open: ['analyst'],
			status: 422
		},
		{
			method: 'POST',
			path: 'plan/cells',
			body: { ...own, edits: [{ ...cell, department: other.department, account: 'none' }] },
			open: ['analyst'],
			status: 422
		}
	],
	'plan/basis': [
		{
			method: 'POST',
			path: 'plan/basis',
			body: { ...own, account: 'none', basis: { kind: 'typed' } },
			open: ['analyst', 'contributor'],
			status: 422
		},
		{
			method: 'POST',
			path: 'plan/basis',
			body: { ...other, account: 'none', basis: { kind: 'typed' } },
			open: ['analyst'],
			status: 422
		}
	],
	'plan/targets': [{ method: 'GET', path: `plan/targets?${S}&${W}`, open: ALL, status: 200 }],
	profiles: [
		{ method: 'GET', path: 'profiles', open: ALL, status: 200 },
		{
			method: 'POST',
			path: 'profiles',
			body: { code: null, name: 'x', weights: [1] },
			open: ['analyst'],
			status: 422
		}
	],
	'profiles/[code]': [{ method: 'DELETE', path: 'profiles/none', open: ['analyst'], status: 404 }],
	'plan/parts': [
		{ method: 'GET', path: `plan/parts?${S}&department=kelpwick&${W}`, open: COMPANY, status: 200 },
		{
			method: 'GET',
			path: `plan/parts?${S}&department=dealer-sales&accounts=6240&${W}`,
			open: ALL,
			status: 200
		}
	],
	'plan/preview': [
		{
			method: 'POST',
			path: 'plan/preview',
			body: {
				scenario: 'fy28-budget',
				from: 2027 * 12 + 3,
				to: 2027 * 12 + 14,
				edits: [{ account: '6240', department: 'dealer-sales', period: 2027 * 12 + 3, value: 1 }],
				shown: [{ department: 'dealer-sales', accounts: null }]
			},
			open: ['analyst', 'contributor'],
			status: 200
		},
		{
			method: 'POST',
			path: 'plan/preview',
			body: {
				scenario: 'fy28-budget',
				from: 2027 * 12 + 3,
				to: 2027 * 12 + 14,
				edits: [],
				shown: [{ department: 'rigging', accounts: null }]
			},
			open: ['analyst'],
			status: 200
		}
	],
	'plan/under': [
		{
			method: 'GET',
			path: `plan/under?${S}&department=dealer-sales&account=revenue&${W}`,
			open: ALL,
			status: 200
		},
		{
			method: 'GET',
			path: `plan/under?${S}&department=rigging&account=revenue&${W}`,
			open: COMPANY,
			status: 200
		}
	],
	models: [
		{ method: 'GET', path: `models?${S}`, open: COMPANY, status: 200 },
		{
			method: 'POST',
			path: 'models',
			body: { scenarios: ['none'], name: 'x', from: { kind: 'blank', dimensions: [] } },
			open: ['analyst'],
			status: 404
		}
	],
	'models/[code]/definition': [
		{ method: 'GET', path: `models/boat_sales/definition?${S}`, open: COMPANY, status: 200 },
		{
			method: 'POST',
			path: 'models/boat_sales/definition',
			body: { scenarios: ['fy28-budget'], version: 'old', definition: null },
			open: ['analyst'],
			status: 409
		}
	],
	'models/[code]/rows': [
		{
			method: 'POST',
			path: 'models/none/rows',
			body: { action: 'add', rows: [['x']] },
			open: ['analyst'],
			status: 404
		}
	],
	dimensions: [
		{ method: 'GET', path: 'dimensions', open: COMPANY, status: 200 },
		{ method: 'POST', path: 'dimensions', body: { name: 'Product' }, open: ['analyst'], status: 409 }
	],
	'dimensions/[dimension]/members': [
		{
			method: 'POST',
			path: 'dimensions/product/members',
			body: { name: 'Scoter 14' },
			open: ['analyst'],
			status: 409
		}
	],
	'dimensions/[dimension]/members/[member]': [
		{
			method: 'PATCH',
			path: 'dimensions/product/members/none',
			body: { name: 'x' },
			open: ['analyst'],
			status: 404
		},
		{ method: 'DELETE', path: 'dimensions/product/members/none', open: ['analyst'], status: 404 }
	],
	'combination-rules': [
		{ method: 'GET', path: 'combination-rules', open: COMPANY, status: 200 },
		{ method: 'POST', path: 'combination-rules', body: badRule, open: ['analyst'], status: 422 }
	],
	'combination-rules/try': [
		{ method: 'POST', path: 'combination-rules/try', body: badRule, open: ['analyst'], status: 422 }
	],
	'combination-rules/[code]': [
		{ method: 'PATCH', path: 'combination-rules/none', body: { on: true }, open: ['analyst'], status: 404 },
		{ method: 'DELETE', path: 'combination-rules/none', open: ['analyst'], status: 404 }
	],
	'models/[code]': [
		{ method: 'GET', path: `models/boat_sales?${S}&${W}`, open: COMPANY, status: 200 },
		{
			method: 'POST',
			path: 'models/boat_sales',
			body: { scenario: 'fy28-budget', from: '2027-04', to: '2028-03' },
			open: COMPANY,
			status: 200
		}
	],
	'opened-rows': [{ method: 'POST', path: 'opened-rows', body: { open: 1 }, open: COMPANY, status: 400 }],
	'models/[code]/cells': [
		{
			method: 'POST',
			path: 'models/none/cells',
			body: {
				scenario: 'fy28-budget',
				edits: [{ line: 'units', row: '', period: 2027 * 12, before: null, value: 1 }]
			},
			open: ['analyst'],
			status: 404
		}
	],
	'models/[code]/formula': [
		{
			method: 'POST',
			path: 'models/none/formula',
			body: { scenario: 'fy28-budget', line: 'x', formula: '1' },
			open: ['analyst'],
			status: 404
		}
	],
	'feeds/preview': [
		{ method: 'POST', path: 'feeds/preview', file: true, body: {}, open: ['analyst'], status: 200 }
	],
	'feeds/run': [
		{
			method: 'POST',
			path: 'feeds/run',
			file: true,
			body: {
				options: { columns: {}, decimal: '.', dates: 'year-first', positive: 'debit' },
				month: 2026 * 12 + 9
			},
			open: ['analyst'],
			status: 422
		}
	],
	'feeds/months': [{ method: 'GET', path: 'feeds/months', open: ['analyst'], status: 200 }],
	'feeds/months/[month]': [
		{ method: 'DELETE', path: 'feeds/months/2030-01', open: ['analyst'], status: 404 }
	],
	'feeds/runs': [{ method: 'GET', path: 'feeds/runs', open: ['analyst'], status: 200 }],
	map: [
		{ method: 'GET', path: 'map', open: ['analyst'], status: 200 },
		{ method: 'POST', path: 'map', body: { ledger: 'none', account: null }, open: ['analyst'], status: 404 }
	],
	rounds: [
		{ method: 'GET', path: 'rounds', open: ALL, status: 200 },
		{
			method: 'POST',
			path: 'rounds',
			body: { name: 'x', scenario: 'fy28-budget', due: '2026-12-01', departments: [] },
			open: ['analyst'],
			status: 422
		}
	],
	'rounds/[round]/[department]': [
		{
			method: 'POST',
			path: 'rounds/fy28-budget/design-office',
			body: { action: 'approve' },
			open: ['analyst', 'reviewer'],
			status: 409
		},
		{
			method: 'POST',
			path: 'rounds/fy28-budget/sites-it',
			body: { action: 'return' },
			open: ['analyst', 'reviewer'],
			status: 409
		}
	],
	close: [
		{ method: 'GET', path: 'close', open: ['analyst'], status: 200 },
		{
			method: 'POST',
			path: 'close',
			body: { month: 2020 * 12, from: 'none', name: 'x' },
			open: ['analyst'],
			status: 409
		}
	],
	'close/reopen': [
		{
			method: 'POST',
			path: 'close/reopen',
			body: { month: 2020 * 12, why: 'x' },
			open: ['analyst'],
			status: 409
		}
	],
	variance: [
		{
			method: 'GET',
			path: 'variance?scenario=actuals&against=last-year&department=dealer-sales&period=2026-09',
			open: ALL,
			status: 200
		},
		{
			method: 'GET',
			path: 'variance?scenario=actuals&against=last-year&department=kelpwick&period=2026-09&format=csv',
			open: COMPANY,
			status: 200
		}
	],
	trace: [
		{
			method: 'POST',
			path: 'trace',
			body: {
				scenario: 'actuals',
				ref: { kind: 'account', account: '6000', department: 'rigging', from: 24320, to: 24320 }
			},
			open: COMPANY,
			status: 200
		},
		{
			method: 'POST',
			path: 'trace',
			body: {
				scenario: 'fy28-budget',
				ref: { kind: 'line', model: 'assumptions', line: 'price_rise', row: '', period: 24327 }
			},
			open: COMPANY,
			status: 200
		}
	]
};

const PAGES: Record<string, { path: string; open: Role[] }[]> = {
	'(app)/plan': [
		{ path: '/plan', open: ALL },
		{ path: '/plan?department=dealer-sales', open: ALL }
	],
	'(app)/plan/targets': [{ path: '/plan/targets', open: ALL }],
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
	'(app)/setup/map': [{ path: '/setup/map', open: ['analyst'] }]
};
/** Pages that only lead on, or are open to all. */
const LEADING = ['', '(app)/setup', 'signin'];

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
