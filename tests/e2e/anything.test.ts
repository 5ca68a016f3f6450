/**
 * Anything one may do: random people doing random things through the API. After each sequence the company is saved, loaded
 * and shows the same figures; nobody has been told of a scenario that they may not see; nothing was an error of the server.
 */
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { Plan } from '../../src/lib/core/scenario/plan';
import { loadCompany } from '../../src/lib/server/transfer/load';
import { readCompany, readStored, writeCompany } from '../../src/lib/server/company/subjects';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { Client, serve, type App } from '../support/app';
import { plainCalendar } from '../support/stranger/calendar';
import { Dice, strangersCompany } from '../support/stranger/company';

const PEOPLE = [
	{ email: 'ana@stranger.example', name: 'Ana', role: 'analyst', departments: ['all'], pay: true },
	{ email: 'bea@stranger.example', name: 'Bea', role: 'analyst', departments: ['all'], pay: true },
	{ email: 'carl@stranger.example', name: 'Carl', role: 'contributor', departments: ['g0'], pay: false },
	{ email: 'dora@stranger.example', name: 'Dora', role: 'reviewer', departments: ['all'], pay: false },
	{ email: 'emil@stranger.example', name: 'Emil', role: 'viewer', departments: ['all'], pay: false }
] as const;

interface Listed {
	code: string;
	name: string;
	first: string;
	last: string;
	actualsThrough: string | null;
}

class Crowd {
	private readonly tokens = new Map<string, string>();
	private count = 0;
	readonly done = new Map<string, number>();
	batch = '';

	constructor(
		private readonly dice: Dice,
		private readonly clients: readonly Client[],
		private readonly data: ReturnType<typeof strangersCompany>
	) {}

	/** A name that stands nowhere else. */
	private token(): string {
		return `Token${this.dice.whole(100_000, 999_999)}x${this.count++}`;
	}

	async act(): Promise<void> {
		const { dice, data } = this;
		const calendar = plainCalendar(data.company.calendar);
		const who = dice.whole(0, this.clients.length - 1);
		const client = this.clients[dice.chance(0.6) ? dice.whole(0, 1) : who];
		const { scenarios } = await client.get<{ scenarios: Listed[] }>('scenarios');
		const plans = scenarios.filter((s) => s.code !== 'actuals');
		if (!plans.length) return;
		const s = dice.pick(plans);
		const [first, last] = [calendar.of(s.first), calendar.of(s.last)];
		const open = s.actualsThrough === null ? first : Math.max(first, calendar.of(s.actualsThrough) + 1);
		const leaves = data.departments.filter((d) => !data.departments.some((c) => c.parent === d.code));
		const accounts = data.accounts.filter((a) => !data.accounts.some((c) => c.parent === a.code));
		const department = dice.pick(leaves).code;
		const account = dice.pick(accounts).code;
		const period = dice.whole(open - 1, last + 1);
		const cell = { block: 'accounts', line: account, row: department, period: calendar.name(period) };
		const value = dice.chance(0.2) ? null : dice.amount(100);
		const models = ['base', 'trade', 'people'];
		const others = [...new Set([...PEOPLE.map((p) => p.email)])];
		const what = dice.pick([
			'type',
			'type',
			'type',
			'input',
			'basis',
			'adjust',
			'switch',
			'adopt',
			'copy',
			'change',
			'hide',
			'delete',
			'lock',
			'model',
			'unmodel',
			'line',
			'formula',
			'rows',
			'member',
			'attributes',
			'gone',
			'note',
			'items',
			'undo',
			'as-of',
			'close',
			'reopen',
			'round',
			'move',
			'map',
			'month',
			'rule',
			'profile'
		] as const);
		const patch = (path: string, body: unknown) => this.send(what, client, 'PATCH', path, body);
		const post = (path: string, body: unknown) => this.send(what, client, 'POST', path, body);
		const remove = (path: string) => this.send(what, client, 'DELETE', path);
		const line = (code: string, more = {}) => ({
			code,
			label: code,
			rollup: { time: 'sum', members: 'sum' },
			closed: 'blank',
			extend: 'last',
			...more
		});
		switch (what) {
			case 'type': {
				const now = await client.get<{ rows: { account: string; typed: (number | null)[] | null }[] }>(
					`plan?scenario=${s.code}&department=${department}&from=${calendar.name(period)}&to=${calendar.name(period)}`
				);
				const before = now.rows?.find((r) => r.account === account)?.typed?.[0] ?? null;
				const answer = await post(`scenarios/${s.code}/cells`, {
					edits: [
						{
							block: 'accounts',
							line: account,
							row: department,
							period: calendar.name(period),
							before,
							value
						}
					]
				});
				if (answer?.batch) this.batch = `${s.code} ${answer.batch}`;
				return;
			}
			case 'input': {
				const row = dice.pick(data.models[1].rows).join('|');
				const edits = [
					{
						block: 'trade',
						line: dice.pick(['units', 'price', 'level']),
						row,
						period: calendar.name(period),
						before: null,
						value
					}
				];
				return void (await post(`scenarios/${s.code}/cells`, { edits }));
			}
			case 'basis': {
				const basis = dice.pick([
					{ kind: 'typed' },
					{ kind: 'last-year', percent: 0.05 },
					{ kind: 'percent-of', percent: 0.2, account: dice.pick(accounts).code },
					{ kind: 'run-rate', months: 3 },
					{ kind: 'driver', driver: dice.pick(['trade.units', 'people.heads', 'base.index']), rate: 2 }
				]);
				return void (await post('plan/basis', { scenario: s.code, department, account, basis }));
			}
			case 'adjust': {
				const onAccount = dice.chance(0.5);
				const step = {
					...(dice.chance(0.4)
						? { operation: 'shift', periods: dice.pick([-1, 1, 2]) }
						: { operation: dice.pick(['multiply', 'add', 'set']), value: 1.5 }),
					lines: [onAccount ? { block: 'accounts', line: account } : { block: 'trade', line: 'units' }],
					where: dice.chance(0.5) ? (onAccount ? { department } : { product: 'product-top' }) : {},
					...(dice.chance(0.5) ? { from: calendar.name(open + 1) } : {})
				};
				const code = `a${dice.whole(0, 4)}`;
				const adjustment = { code, name: `Adjustment ${code} ${this.token()}`, on: true, steps: [step] };
				return void (await post(`scenarios/${s.code}/adjustments`, { action: 'put', adjustment }));
			}
			case 'switch': {
				const code = `a${dice.whole(0, 4)}`;
				const change = dice.pick([
					{ action: 'switch', code, on: dice.chance(0.5) },
					{ action: 'move', code, to: 0 },
					{ action: 'remove', code }
				]);
				return void (await post(`scenarios/${s.code}/adjustments`, change));
			}
			case 'adopt': {
				const answer = await post(`scenarios/${s.code}/adjustments/adopt`, {
					codes: [`a${dice.whole(0, 4)}`]
				});
				if (answer?.batch) this.batch = `${s.code} ${answer.batch}`;
				return;
			}
			case 'copy':
				if (plans.length > 9) return;
				return void (await post('scenarios', {
					from: s.code,
					name: this.token(),
					kind: dice.pick(['what-if', 'budget', 'forecast', 'target']),
					notes: true
				}));
			case 'change':
				return void (await patch(
					`scenarios/${s.code}`,
					dice.pick([
						{ name: this.token() },
						{ last: calendar.name(Math.min(last + dice.whole(1, 5), first + 100)) },
						{ target: dice.pick(plans).code },
						{ target: null },
						{ folder: 'a/b' }
					])
				));
			case 'hide':
				return void (await patch(`scenarios/${s.code}`, {
					visibility: dice.pick(['all', 'finance', 'people']),
					people: dice.some(others, 0.3),
					name: this.token()
				}));
			case 'delete':
				await remove(`scenarios/${s.code}`);
				if (dice.chance(0.5)) await post(`scenarios/${s.code}/restore`, {});
				return;
			case 'lock':
				return void (await post(`scenarios/${s.code}/lock`, { locked: dice.chance(0.3), why: 'x' }));
			case 'model':
				return void (await post('models', {
					scenarios: [s.code],
					name: this.token(),
					from: dice.pick([
						{ kind: 'blank', dimensions: dice.some(['product', 'department'], 0.6) },
						{ kind: 'copy', model: 'people', withValues: true },
						{ kind: 'template', template: 'sales', dimensions: ['product'] }
					]),
					rows: { kind: 'all' }
				}));
			case 'unmodel':
			case 'line': {
				const { models: there = [] } = await client.get<{ models: { code: string }[] }>(
					`models?scenario=${s.code}`
				);
				if (!there.length) return;
				const model = dice.pick(there).code;
				const { definition, version } = await client.get<{
					definition?: { lines: object[] };
					version: string;
				}>(`models/${model}/definition?scenario=${s.code}`);
				if (!definition) return;
				const changed =
					what === 'unmodel'
						? models.includes(model)
							? { ...definition, lines: definition.lines.slice(0, -1) }
							: null
						: {
								...definition,
								lines: [
									...definition.lines,
									line(`l${this.count++}`, dice.chance(0.5) ? { formula: '1 + 2' } : {})
								]
							};
				return void (await post(`models/${model}/definition`, {
					scenarios: [s.code],
					version,
					definition: changed,
					drop: dice.chance(0.5)
				}));
			}
			case 'formula':
				return void (await post('models/trade/formula', {
					scenario: s.code,
					line: 'income',
					formula: dice.pick([
						'units * price',
						'units * price * base.grown',
						'income + 1',
						`scenario("${dice.pick(plans).code}", units)`,
						'account("c0")'
					])
				}));
			case 'rows':
				return void (await post('models/trade/rows', {
					action: dice.pick(['add', 'remove']),
					rows: [[dice.pick(['product0', 'product1', 'product-top', 'new0']), department]],
					leaveOut: dice.chance(0.5)
				}));
			case 'member':
				return void (await post('dimensions/product/members', {
					name: this.token(),
					parent: dice.pick([null, 'product-top', 'product0']),
					attributes: dice.chance(0.7) ? { into: 's0' } : {},
					...(dice.chance(0.5)
						? {
								like: {
									member: 'product0',
									scenarios: [s.code],
									lines: [{ model: 'trade', line: 'units', factor: 0.5 }]
								}
							}
						: {})
				}));
			case 'attributes':
				return void (await patch(
					`dimensions/product/members/${dice.pick(['product0', 'product1', 'product-top'])}`,
					dice.pick([
						{ attributes: { into: dice.pick(['s0', 's1', 'cash', 'nowhere']) } },
						{ attributes: {} },
						{ parent: dice.pick([null, 'product-top', 'product1']) }
					])
				));
			case 'gone':
				return void (await remove(
					`dimensions/${dice.pick(['product', 'region'])}/members/${dice.pick(['product1', 'region0', 'region1'])}`
				));
			case 'note':
				return void (await post('notes', { scenario: s.code, cell, text: this.token() }));
			case 'items':
				return void (await post('notes/items', {
					scenario: s.code,
					cell,
					before: null,
					items: dice.chance(0.8) ? [{ description: 'x', quantity: 2, rate: 3, amount: 6 }] : []
				}));
			case 'undo': {
				const { saves = [] } = await client.get<{ saves: { batch: string }[] }>(
					`scenarios/${s.code}/history`
				);
				if (!saves.length) return;
				return void (await post(`scenarios/${s.code}/history/undo`, {
					batch: dice.pick(saves).batch || 'x'
				}));
			}
			case 'as-of': {
				if (plans.length > 9) return;
				const { saves = [] } = await client.get<{ saves: { batch: string }[] }>(
					`scenarios/${s.code}/history`
				);
				if (!saves.length) return;
				return void (await post(`scenarios/${s.code}/history/as-of`, {
					batch: dice.pick(saves).batch || 'x'
				}));
			}
			case 'close': {
				const { month, from } = await client.get<{ month: number | null; from: { code: string }[] }>('close');
				if (month == null || !from?.length) return;
				return void (await post('close', {
					month: calendar.name(month),
					from: dice.pick(from).code,
					name: this.token(),
					accounts: dice.pick(['year-ago', 'last', 'blank']),
					followers: dice.some(plans, 0.3).map((p) => p.code),
					despiteUnmapped: true
				}));
			}
			case 'reopen': {
				const { closedThrough } = await client.get<{ closedThrough: string | null }>('close');
				if (closedThrough == null) return;
				return void (await post('close/reopen', { month: closedThrough, why: 'x' }));
			}
			case 'round':
				return void (await post('rounds', {
					name: this.token(),
					scenario: s.code,
					due: '2027-01-01',
					instructions: '',
					departments: dice.some(leaves, 0.5).map((d) => d.code)
				}));
			case 'move': {
				const { rounds = [] } = await client.get<{
					rounds: { submissions: { round: string; department: string; moves: string[]; mark: string }[] }[];
				}>('rounds');
				const submissions = rounds.flatMap((r) => r.submissions).filter((x) => x.moves.length);
				if (!submissions.length) return;
				const own = dice.pick(submissions);
				return void (await post(`rounds/${own.round}/${own.department}`, {
					action: dice.pick(own.moves),
					comment: 'x',
					mark: own.mark
				}));
			}
			case 'map':
				return void (await post('map', {
					ledger: dice.pick(data.ledgerAccounts).code,
					account: dice.chance(0.3) ? null : account
				}));
			case 'month': {
				const { months = [] } = await client.get<{ months: { period: string }[] }>('feeds/months');
				if (dice.chance(0.3) && months.length) return void (await remove(`feeds/months/${months[0].period}`));
				const at = Math.max(...data.entries.map((e) => e.period)) + dice.whole(-1, 2);
				const content = `date,account,department,amount,product\n${calendar.day(at, 4)},${dice.pick(data.ledgerAccounts).code},${department},12.5,product0\n`;
				const options = {
					columns: { date: 0, ledger_account: 1, department: 2, amount: 3, product: 4 },
					decimal: '.',
					dates: 'year-first',
					positive: 'debit'
				};
				const sent = await client.send('feeds/run', 'm.csv', content, {
					options,
					month: calendar.name(at),
					map: {}
				});
				this.noted(what, sent.status, JSON.stringify(sent));
				return;
			}
			case 'rule':
				return void (await post('combination-rules', {
					code: 'r',
					name: 'R',
					on: dice.chance(0.5),
					effect: dice.pick(['block', 'allow']),
					lead: { dimension: 'product', under: ['product0'], except: [] },
					others: [{ dimension: 'department', under: [department], except: [] }]
				}));
			case 'profile':
				return void (await post('profiles', { code: null, name: this.token(), weights: Array(12).fill(1) }));
		}
	}

	private async send(what: string, client: Client, method: string, path: string, body?: unknown) {
		const answer = await client.fetch(`/api/v1/${path}`, {
			method,
			...(body === undefined
				? {}
				: { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
		});
		const text = await answer.text();
		this.noted(what, answer.status, `${method} ${path} ${JSON.stringify(body)}: ${text}`);
		return answer.ok ? (JSON.parse(text) as { batch?: string }) : null;
	}
	private noted(what: string, status: number, words: string) {
		expect(status, words.slice(0, 1000)).toBeLessThan(500);
		if (status < 300) this.done.set(what, (this.done.get(what) ?? 0) + 1);
	}
}

/** Every figure of a scenario, or why there are none. */
async function figures(db: Awaited<ReturnType<typeof openDatabase>>, code: string): Promise<string> {
	let plan: Plan;
	try {
		plan = await planOf(db, code);
	} catch (e) {
		if (e instanceof Refusal) return e.message;
		throw e;
	}
	const { calculation } = plan;
	const all: unknown[] = [];
	for (const block of ['accounts', ...plan.models.keys()])
		for (const line of calculation.block(block).lines)
			calculation.block(block).rows.forEach((_, r) => {
				for (let p = plan.open; p <= plan.scenario.last; p++) {
					const v = calculation.cell(block, line.code, r, p);
					all.push(typeof v === 'number' ? Number(v.toPrecision(9)) + 0 : v);
				}
			});
	return JSON.stringify(all);
}

async function mustBeWhole(app: App): Promise<void> {
	const now = await openDatabase(app.database, false);
	const files = writeCompany(await readStored(now));
	const faults = () => {
		try {
			readCompany(files);
			return [];
		} catch (e) {
			if (e instanceof Refusal) return e.faults;
			throw e;
		}
	};
	expect(faults()).toEqual([]);
	const again = await openDatabase(':memory:');
	await loadCompany(again, readCompany(files));
	expect(writeCompany(await readStored(again))).toEqual(files);
	for (const { code } of (await now('scenario').whereNull('deleted').select('code')) as { code: string }[])
		expect(await figures(again, code), code).toBe(await figures(now, code));
	await again.destroy();
	await now.destroy();
}

/** Nobody is told of a scenario that they may not see: every one has a name that stands nowhere else. */
async function mustKeepToThemselves(app: App, clients: readonly Client[]): Promise<void> {
	const db = await openDatabase(app.database, false);
	const rows = (await db('scenario').whereNull('deleted')) as {
		code: string;
		name: string;
		visibility: string;
		people: string;
		owner: string;
		follows: string | null;
	}[];
	const formulas = (await db('scenario_model')
		.join('definition', 'definition.id', 'scenario_model.definition')
		.select('scenario', 'content')) as { scenario: string; content: string }[];
	await db.destroy();
	const restsOn = (s: (typeof rows)[number]) => [
		...(s.follows ? [s.follows] : []),
		...formulas
			.filter((f) => f.scenario === s.code)
			.flatMap((f) => [...f.content.matchAll(/scenario\(\\"([^"\\]+)\\"/g)].map((m) => m[1]))
	];
	for (const [i, client] of clients.entries()) {
		const { email, role, departments } = PEOPLE[i];
		const sees = (s: (typeof rows)[number]) =>
			s.visibility === 'all' ||
			(s.visibility === 'people'
				? s.owner === email || s.people.split(';').includes(email)
				: role === 'analyst' ||
					(role !== 'contributor' && (departments as readonly string[]).includes('all')));
		const hidden = rows.filter((s) => !sees(s));
		// Whoever sees a scenario sees what its figures rest on.
		for (const s of rows.filter(sees))
			for (const below of restsOn(s))
				expect(
					hidden.map((h) => h.code),
					`${email} sees ${s.code}`
				).not.toContain(below);
		const { scenarios } = await client.get<{ scenarios: Listed[] }>('scenarios');
		expect(
			scenarios
				.filter((s) => s.code !== 'actuals')
				.map((s) => s.code)
				.sort()
		).toEqual(
			rows
				.filter(sees)
				.map((s) => s.code)
				.sort()
		);
		if (!hidden.length) continue;
		const asked = [
			'scenarios',
			'rounds',
			'close',
			...scenarios.slice(0, 4).flatMap((s) => [`scenarios/${s.code}/history`, `models?scenario=${s.code}`])
		];
		const told = await Promise.all([
			...asked.map(async (path) => JSON.stringify(await client.get(path))),
			...['/forecast', '/plan', '/collect', '/compare'].map(async (page) => {
				let answer = await client.fetch(page);
				if (answer.status === 307) answer = await client.fetch(answer.headers.get('location')!);
				return answer.text();
			})
		]);
		for (const s of hidden)
			if (s.name.startsWith('Token'))
				for (const text of told) expect(text, `${email} ${s.name}`).not.toContain(s.name);
		for (const s of hidden)
			expect((await client.get(`plan?scenario=${s.code}&department=g0&from=2026-01&to=2026-01`)).status).toBe(
				404
			);
	}
}

describe('a company at work', () => {
	it.each([1, 2, 3])('stays whole and discreet, whatever is done: %i', async (seed) => {
		const data = {
			...strangersCompany(seed),
			users: PEOPLE.map((p) => ({ ...p, departments: [...p.departments] }))
		};
		const home = mkdtempSync(join(tmpdir(), 'anything-'));
		const database = join(home, 'company.sqlite');
		const db = await openDatabase(database);
		await loadCompany(db, readCompany(writeCompany(data)));
		await db.destroy();
		const app = await serve(home, database, {});
		try {
			const clients = await Promise.all(PEOPLE.map((p) => Client.signIn(app, p.email)));
			const crowd = new Crowd(new Dice(seed * 7919), clients, data);
			for (let round = 0; round < 4; round++) {
				for (let i = 0; i < 60; i++) await crowd.act();
				await mustBeWhole(app);
				await mustKeepToThemselves(app, clients);
			}
			// Most of what is tried at random must be things that are done, or nothing is tried at all.
			expect([...crowd.done.values()].reduce((a, b) => a + b, 0)).toBeGreaterThan(70);
			expect(crowd.done.size).toBeGreaterThan(15);
		} finally {
			await app.stop();
		}
	});
});
