/**
 * Anything one may send: every request that the API takes, bent in every part. Each is refused with a word that says where,
 * or taken as it stands; nothing of what is refused is written, nothing is an error of the server, and its memory stays.
 */
import { readFileSync } from 'node:fs';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { API, WHO, type Request } from '../support/requests';

let app: App;
let maren: Client;
let db: Database.Database;
beforeAll(async () => {
	app = await startApp('demo/company');
	maren = await Client.signIn(app, WHO.analyst);
	db = new Database(app.database, { readonly: true });
});
afterAll(async () => {
	db?.close();
	await app?.stop();
});

/** Changes whenever another process has committed something (SQLite, PRAGMA data_version). */
const written = () => db.pragma('data_version', { simple: true }) as number;
const residentMb = () =>
	Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${app.process.pid}/status`, 'utf8'))![1]) / 1024;

/** What stands where something else was expected. */
const BENT: unknown[] = [
	null,
	true,
	-1,
	0.5,
	1e16,
	99_999_999,
	'',
	'constructor',
	'__proto__',
	'x'.repeat(5000),
	'half \ud83d',
	'turned \u202e',
	'nul \u0000',
	"'; DROP TABLE scenario; --",
	'../../etc/passwd',
	[],
	Array(3000).fill('x'),
	{},
	{ constructor: 1 }
];

/** Five of them after each other, further on each time: all of them in turn, without all of them everywhere. */
let turn = 0;
const someBent = () => {
	turn += 5;
	return Array.from({ length: 5 }, (_, i) => BENT[(turn + i) % BENT.length]);
};

type Json = unknown;
const isObject = (v: Json): v is Record<string, Json> =>
	typeof v === 'object' && v !== null && !Array.isArray(v);

/** A body with one part of it bent, for every part and every way. */
function* bodies(body: Json): Generator<Json> {
	yield* BENT;
	if (isObject(body)) {
		yield { ...body, unexpected: 1 };
		yield JSON.parse(JSON.stringify({ a: 1, ...body }).replace('"a"', '"__proto__"'));
		for (const key of Object.keys(body)) {
			const { [key]: own, ...rest } = body;
			yield rest;
			for (const bent of parts(own)) yield { ...body, [key]: bent };
		}
	}
}
/** One value bent: another in its place, or one of its parts bent. */
function* parts(value: Json): Generator<Json> {
	yield* someBent();
	if (Array.isArray(value)) {
		yield [...value, ...value];
		if (value.length) for (const bent of parts(value[0])) yield [bent, ...value.slice(1)];
	} else if (isObject(value))
		for (const key of Object.keys(value)) {
			const { [key]: own, ...rest } = value;
			yield rest;
			for (const bent of parts(own)) yield { ...value, [key]: bent };
		}
}

/** Addresses with one part bent. */
function* addresses(path: string): Generator<string> {
	const WORDS = [
		'',
		'x',
		'constructor',
		'__proto__',
		'%00',
		'%ff',
		'-1',
		'9999-12',
		'0000-00',
		'%F0%9F%9B%B6'
	];
	const [way, search = ''] = path.split('?');
	const steps = way.split('/');
	for (const i of steps.keys())
		if (i > 0)
			for (const w of ['constructor', '%00', '%ff', 'x'.repeat(3000), '..%2f..'])
				yield `${steps.with(i, w).join('/')}?${search}`;
	const query = search ? search.split('&').map((pair) => pair.split('=')) : [];
	for (const [i, [name]] of query.entries()) {
		yield `${way}?${query
			.filter((_, j) => j !== i)
			.map((p) => p.join('='))
			.join('&')}`;
		yield `${way}?${search}&${name}=again`;
		for (const w of [...WORDS, 'x'.repeat(3000)])
			yield `${way}?${query
				.with(i, [name, w])
				.map((p) => p.join('='))
				.join('&')}`;
	}
}

async function take(what: () => string, request: Promise<Response>, before: number): Promise<void> {
	const answer = await request;
	const text = answer.headers.get('content-type')?.startsWith('text/event-stream')
		? (await answer.body!.cancel(), '')
		: await answer.text();
	expect(answer.status, `${what()}: ${text.slice(0, 200)}`).toBeLessThan(500);
	if (answer.status < 400) return;
	expect(written(), `${what()} was refused and written`).toBe(before);
	// An address that leads nowhere is a page that is not there.
	if (answer.headers.get('content-type')?.includes('json') && text.includes('"error"'))
		expect(JSON.parse(text).error.message, what()).toMatch(/\w+ \w+/);
	expect(text, what()).not.toMatch(/at .*\.(js|ts):\d+|SQLITE|SqliteError/);
}

const P = '2027-04';
const cell = { block: 'accounts', line: '6240', row: 'dealer-sales', period: P };
const set = { dimension: 'product', under: ['kayaks'], except: ['eider-10'] };
const line = {
	code: 'x',
	label: 'X',
	unit: 'GBP',
	format: 'money',
	formula: 'units * 2',
	scoped: [{ where: { product: 'kayaks' }, from: '2027-05', to: '2027-06', formula: '1' }],
	rollup: { time: 'sum', members: 'sum' },
	closed: 'blank',
	extend: 'last'
};
/** Requests that are taken as they stand, so that what is bent in them goes deep. */
const TAKEN: Pick<Request, 'method' | 'path' | 'body' | 'file'>[] = [
	{
		method: 'POST',
		path: 'scenarios',
		body: { from: 'fy28-budget', name: 'Bent', kind: 'what-if', notes: true }
	},
	{
		method: 'PATCH',
		path: 'scenarios/dearer-kayaks',
		body: {
			name: 'Dearer',
			description: 'x',
			folder: 'a/b',
			visibility: 'all',
			people: [WHO.viewer],
			target: 'fy27-budget',
			last: '2028-03'
		}
	},
	{
		method: 'POST',
		path: 'scenarios/dearer-kayaks/adjustments',
		body: {
			action: 'put',
			adjustment: {
				code: 'bent',
				name: 'Bent',
				on: true,
				steps: [
					{
						operation: 'add',
						value: 1,
						lines: [{ block: 'boat_sales', line: 'units' }],
						where: { product: 'kayaks' },
						from: '2027-01',
						to: '2027-02'
					},
					{
						operation: 'shift',
						periods: 1,
						lines: [{ block: 'accounts', line: '6240' }],
						where: { department: 'dealer-sales' }
					}
				]
			}
		}
	},
	{
		method: 'POST',
		path: 'scenarios/dearer-kayaks/adjustments',
		body: { action: 'move', code: 'kayak-prices', to: 1 }
	},
	{
		method: 'POST',
		path: 'scenarios/fy28-budget/cells',
		body: { edits: [{ ...cell, row: 'direct-web', before: null, value: 1 }] }
	},
	...[
		{ kind: 'last-year', percent: 0.1 },
		{ kind: 'percent-of', percent: 0.1, account: '4000' },
		{ kind: 'run-rate', months: 3 },
		{ kind: 'driver', driver: 'boat_sales.units', rate: 2 }
	].map((basis) => ({
		method: 'POST' as const,
		path: 'plan/basis',
		body: { scenario: 'fy28-budget', department: 'dealer-sales', account: '6240', basis }
	})),
	{
		method: 'POST',
		path: 'models',
		body: {
			scenarios: ['fy28-budget'],
			name: 'Bent',
			description: '',
			from: { kind: 'blank', dimensions: ['region'] },
			rows: { kind: 'all' }
		}
	},
	{
		method: 'POST',
		path: 'models',
		body: {
			scenarios: ['fy28-budget'],
			name: 'Bent copy',
			from: { kind: 'copy', model: 'dealer_visits', withValues: true }
		}
	},
	{
		method: 'POST',
		path: 'models/boat_sales',
		body: {
			scenario: 'fy28-budget',
			from: '2027-04',
			to: '2027-06',
			rows: ['line', 'product'],
			across: 'channel',
			lines: ['units'],
			open: ['units'],
			where: { product: 'kayaks', 'product.size': 'small' },
			find: 'x',
			empty: 'hide'
		}
	},
	{
		method: 'POST',
		path: 'models/boat_sales/formula',
		body: { scenario: 'fy28-budget', line: 'revenue', formula: 'units * list_price', also: ['dearer-kayaks'] }
	},
	{
		method: 'POST',
		path: 'models/boat_sales/rows',
		body: { action: 'add', rows: [['eider-10', 'web', 'lakes']], leaveOut: true }
	},
	{
		method: 'POST',
		path: 'dimensions/product/members',
		body: {
			code: 'bent',
			name: 'Bent',
			parent: 'kayaks',
			attributes: { size: 'small' },
			like: {
				member: 'eider-10',
				scenarios: ['fy28-budget'],
				lines: [{ model: 'boat_sales', line: 'units', factor: 0.5 }]
			}
		}
	},
	{
		method: 'PATCH',
		path: 'dimensions/product/members/eider-10',
		body: { name: 'Kayak', parent: 'kayaks', attributes: { size: 'small' } }
	},
	{
		method: 'POST',
		path: 'combination-rules',
		body: {
			code: 'bent',
			name: 'Bent',
			on: false,
			effect: 'block',
			lead: set,
			others: [{ dimension: 'region', under: ['lakes'], except: [] }]
		}
	},
	{
		method: 'POST',
		path: 'combination-rules/try',
		body: {
			code: 'bent',
			name: 'Bent',
			on: false,
			effect: 'allow',
			lead: set,
			others: [{ dimension: 'region', under: ['lakes'], except: [] }]
		}
	},
	{ method: 'POST', path: 'profiles', body: { code: null, name: 'Bent', weights: Array(12).fill(1) } },
	{
		method: 'POST',
		path: 'rounds',
		body: {
			name: 'Bent',
			scenario: 'dearer-kayaks',
			due: '2027-01-31',
			instructions: 'x',
			departments: ['dealer-sales']
		}
	},
	{ method: 'POST', path: 'notes', body: { scenario: 'fy28-budget', cell, text: 'x', answers: null } },
	{
		method: 'POST',
		path: 'notes/items',
		body: {
			scenario: 'fy28-budget',
			cell,
			before: null,
			items: [{ description: 'x', quantity: 2, rate: 3, amount: 6 }]
		}
	},
	{
		method: 'POST',
		path: 'trace',
		body: {
			scenario: 'fy28-budget',
			ref: { kind: 'line', model: 'boat_sales', line: 'revenue', row: 'eider-10|dealer|lakes', period: P }
		}
	},
	{
		method: 'POST',
		path: 'close',
		body: {
			month: '2026-10',
			from: 'fy27-forecast-6-6',
			name: 'Bent',
			accounts: 'last',
			followers: ['fy28-budget'],
			despiteUnmapped: true
		}
	},
	{
		method: 'POST',
		path: 'feeds/run',
		file: true,
		body: {
			options: {
				columns: { date: 0, ledger_account: 1, department: 2, amount: 3 },
				decimal: '.',
				dates: 'year-first',
				positive: 'debit'
			},
			month: '2026-10',
			map: { '1': '6240' }
		}
	}
];
/** A model's definition with every part that one can have. */
async function definition(): Promise<(typeof TAKEN)[number]> {
	const { definition: own, version } = await maren.get('models/boat_sales/definition?scenario=dearer-kayaks');
	return {
		method: 'POST',
		path: 'models/boat_sales/definition',
		body: {
			scenarios: ['dearer-kayaks'],
			version,
			drop: true,
			definition: {
				...own,
				lines: [line, ...own.lines],
				proofs: [
					{
						name: 'x',
						line: 'units',
						where: { product: 'kayaks' },
						first: '2027-04',
						expected: [1, null],
						tolerance: 1
					}
				]
			}
		}
	};
}

const asked = Object.values(API).flat();

describe('what is bent', () => {
	it.each([...TAKEN.filter((r) => !r.file).map((r) => () => Promise.resolve(r)), definition])(
		'is taken as it stands',
		async (made) => {
			const { method, path, body } = await made();
			const answer = await maren.fetch(`/api/v1/${path}`, {
				method,
				headers: { 'content-type': 'application/json' },
				body: JSON.stringify(body)
			});
			// October is not loaded yet, and so cannot be closed.
			expect(answer.status, `${method} ${path}: ${await answer.text()}`).toBe(path === 'close' ? 422 : 200);
		}
	);
});

describe('a body', () => {
	const bending = [...asked, ...TAKEN].filter((r) => r.body !== undefined && !r.file);
	it.each([
		...bending.map((r) => [`${r.method} ${r.path}`, () => Promise.resolve(r)] as const),
		['POST models/boat_sales/definition', definition] as const
	])('of %s is refused at its place, whatever of it is bent', async (name, made) => {
		const r = await made();
		for (const body of bodies(r.body)) {
			const sent = JSON.stringify(body);
			const before = written();
			const request = maren.fetch(`/api/v1/${r.path}`, {
				method: r.method,
				headers: { 'content-type': 'application/json' },
				body: sent
			});
			await take(() => `${name} with ${sent.slice(0, 300)}`, request, before);
		}
	});
	it('that is no JSON, no UTF-8 or no end is refused', async () => {
		for (const body of [
			'',
			'{',
			'[[[[',
			'NaN',
			'{"a":',
			Buffer.from([0xff, 0xfe, 0x7b]),
			'['.repeat(30_000)
		]) {
			const before = written();
			const request = maren.fetch('/api/v1/scenarios', {
				method: 'POST',
				headers: { 'content-type': 'application/json' },
				body
			});
			await take(() => String(body).slice(0, 20), request, before);
			expect((await request).status).toBe(400);
		}
	});
});

describe('an upload', () => {
	const files = [...asked, ...TAKEN].filter((r) => r.file || r.path === 'notes/attachments');
	it.each(files.map((r) => [r.path, r] as const))('to %s is refused at its place', async (path, r) => {
		const send = async (name: string, content: BlobPart, request: string) => {
			const form = new FormData();
			form.set('file', new File([content], name));
			form.set('request', request);
			const before = written();
			await take(
				() => `${path}: ${name} ${request.slice(0, 200)}`,
				maren.fetch(`/api/v1/${path}`, { method: 'POST', body: form }),
				before
			);
		};
		for (const body of bodies(r.body ?? {}))
			await send(
				'x.csv',
				'Date,Account,Department,Amount\n2026-10-01,1,dealer-sales,1\n',
				JSON.stringify(body)
			);
		for (const content of [
			new Uint8Array([0, 1, 2]),
			new Uint8Array([0xff, 0xfe, 0, 0xd8]),
			'a,"b',
			'\n\n',
			'=1+1'
		])
			await send('../../x\u0000\u202e.csv', content, JSON.stringify(r.body ?? {}));
		await send('x.csv', 'a', '{');
		for (const type of ['multipart/form-data', 'multipart/form-data; boundary=x', 'text/plain'])
			await take(
				() => `${path} as ${type}`,
				maren.fetch(`/api/v1/${path}`, {
					method: 'POST',
					headers: { 'content-type': type },
					body: '--x\r\n'
				}),
				written()
			);
	});
});

describe('an address', () => {
	it.each([...new Set(asked.map((r) => `${r.method} ${r.path}`))])(
		'%s is refused where it is bent',
		async (name) => {
			const [method, path] = name.split(' ');
			const own = asked.find((r) => r.path === path && r.method === method)!;
			for (const bent of addresses(path)) {
				const before = written();
				const init = own.body === undefined || own.file ? {} : { body: JSON.stringify(own.body) };
				const headers: Record<string, string> =
					own.body === undefined ? {} : { 'content-type': 'application/json' };
				await take(
					() => `${method} ${bent.slice(0, 300)}`,
					maren.fetch(`/api/v1/${bent}`, { method, headers, ...init }),
					before
				);
			}
		}
	);
	it('of a page is answered, whatever stands in it', async () => {
		for (const page of [
			'plan',
			'compare',
			'drivers/boat_sales',
			'forecast',
			'forecast/history',
			'forecast/what-if',
			'plan/targets'
		])
			for (const bent of addresses(
				`${page}?scenario=fy28-budget&department=dealer-sales&from=2027-04&to=2028-03&open=units&where=product:kayaks&fold=x&period=2027-05&amount=1&beside=actuals`
			))
				expect((await maren.fetch(`/${bent}`)).status, bent.slice(0, 200)).toBeLessThan(500);
	});
});

it('and after all of it the server has not grown, and answers', async () => {
	expect(residentMb()).toBeLessThan(1500);
	expect((await maren.get('me')).status).toBe(200);
});
