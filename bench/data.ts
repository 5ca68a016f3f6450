/** Storage: copying a scenario and loading a ledger file, against what SQLite itself needs for the same rows. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { companyOf, type CompanyData, storeCompany } from '../src/lib/server/company/subjects';
import { scenarioOf } from '../src/lib/server/company/subjects/scenarios';
import { openDatabase } from '../src/lib/server/platform/db/connect';
import { previewFeed, runFeed } from '../src/lib/server/ledger/feed';
import { copyScenario } from '../src/lib/server/scenarios/making';
import { insertSeries } from '../src/lib/server/company/subjects/scenario/values';
import { report } from './measure';

const DEPARTMENTS = 300;
const ACCOUNTS = 60;
const APR26 = 2026 * 12 + 3;

/** A made-up company of some size: one scenario, departments in one tree, accounts in one. */
export function company(): CompanyData {
	const account = (i: number) => ({
		code: `a${i}`,
		name: `Account ${i}`,
		parent: i % 3 ? 'cost' : 'income',
		type: (i % 3 ? 'expense' : 'revenue') as 'expense' | 'revenue',
		rollup: 'sum' as const,
		format: 'money' as const
	});
	const group = (code: string, parent: string | null, type: 'expense' | 'revenue') => ({
		code,
		name: code,
		parent,
		type,
		rollup: 'sum' as const,
		format: 'money' as const
	});
	return companyOf({
		company: {
			name: 'Bench',
			currency: 'EUR',
			calendar: { kind: 'months', fiscalStart: 4, dayCount: 'actual' },
			decimals: 2
		},
		closedThrough: APR26 - 1,
		accounts: [
			group('result', null, 'revenue'),
			group('income', 'result', 'revenue'),
			group('cost', 'result', 'expense'),
			...Array.from({ length: ACCOUNTS }, (_, i) => account(i))
		],
		ledgerAccounts: Array.from({ length: ACCOUNTS }, (_, i) => ({
			code: `L${i}`,
			name: `Ledger ${i}`,
			account: `a${i}`
		})),
		entities: [{ code: 'e', name: 'Entity', currency: 'EUR' }],
		departments: [
			{ code: 'all', name: 'All', parent: null, entity: 'e' },
			...Array.from({ length: DEPARTMENTS / 20 }, (_, i) => ({
				code: `g${i}`,
				name: `Group ${i}`,
				parent: 'all',
				entity: 'e'
			})),
			...Array.from({ length: DEPARTMENTS }, (_, i) => ({
				code: `d${i}`,
				name: `Department ${i}`,
				parent: `g${i % (DEPARTMENTS / 20)}`,
				entity: 'e'
			}))
		],
		dimensions: [],
		models: [],
		scenarios: ['budget', 'forecast'].map((code, i) =>
			scenarioOf({
				scenario: {
					code,
					name: code,
					kind: i ? 'forecast' : 'budget',
					first: APR26,
					last: APR26 + 35
				},
				definitions: [],
				series: Array.from({ length: ACCOUNTS * DEPARTMENTS }, (_, k) => ({
					block: 'accounts',
					line: `a${k % ACCOUNTS}`,
					row: `d${Math.floor(k / ACCOUNTS)}`,
					first: APR26,
					values: Float64Array.from(
						{ length: 36 },
						(_, t) => ((k * 7919 + t * 104729 + i * 31) % 100000) / 100
					)
				}))
			})
		),
		entries: [],
		users: [{ email: 'a@bench.example', name: 'A', role: 'analyst', departments: ['all'], pay: true }]
	});
}
export const analyst = {
	email: 'a@bench.example',
	name: 'A',
	role: 'analyst' as const,
	pay: true,
	departments: ['all']
};

async function timed(run: () => Promise<unknown>): Promise<number> {
	const start = process.hrtime.bigint();
	await run();
	return Number(process.hrtime.bigint() - start) / 1e6;
}
const middle = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1];

/** A scenario of 1,000,000 values: 27,778 series of 36. */
async function benchCopy(db: Knex): Promise<void> {
	const series = Array.from({ length: 27_778 }, (_, k) => ({
		block: 'accounts',
		line: `x${k % 100}`,
		row: `r${Math.floor(k / 100)}`,
		first: APR26,
		values: Float64Array.from({ length: 36 }, (_, t) => k + t / 100)
	}));
	await db('scenario').insert({
		code: 'million',
		name: 'million',
		kind: 'what-if',
		first: APR26,
		last: APR26 + 35,
		actuals_through: null,
		follows: null,
		origin: null,
		locked: false,
		description: '',
		position: 99
	});
	await db.transaction((trx) => insertSeries(trx, 'million', series));
	const ours: number[] = [];
	const other: number[] = [];
	for (let i = 0; i < 5; i++) {
		ours.push(await timed(() => copyScenario({ db, user: analyst }, 'million', `copy ${i}`, 'what-if')));
		await db('scenario').insert({
			...(await db('scenario').where({ code: 'million' }).first()),
			code: `plain-${i}`,
			name: `plain ${i}`
		});
		other.push(
			await timed(() =>
				db.raw(
					`INSERT INTO series (scenario, block, line, row, first, data) SELECT ?, block, line, row, first, data FROM series WHERE scenario = 'million'`,
					[`plain-${i}`]
				)
			)
		);
	}
	report('scenario.copy', middle(ours), middle(other), 'ms', '1,000,000 values');
}

/** 1,000,000 ledger entries of one month. */
async function benchFeed(db: Knex, folder: string): Promise<void> {
	const rows = ['date,ledger_account,department,amount,document,party,description'];
	for (let i = 0; i < 1_000_000; i++)
		rows.push(
			`2026-04-${String((i % 28) + 1).padStart(2, '0')},L${i % ACCOUNTS},d${(i * 7) % DEPARTMENTS},${(((i * 7919) % 1_000_000) / 100).toFixed(2)},${i},Party ${i % 500},Entry`
		);
	const content = rows.join('\n') + '\n';
	const file = join(folder, 'ledger.csv');
	writeFileSync(file, content);
	const { options } = await previewFeed(
		{ db, user: analyst },
		'ledger.csv',
		rows.slice(0, 100).join('\n'),
		null,
		{}
	);
	const ours = await timed(() => runFeed({ db, user: analyst }, 'ledger.csv', content, options, APR26, {}));
	const script = `PRAGMA journal_mode=WAL;
.mode csv
.import ${file} entry
CREATE TABLE total AS SELECT ledger_account, department, SUM(amount) AS amount FROM entry GROUP BY ledger_account, department;`;
	const start = process.hrtime.bigint();
	execFileSync('sqlite3', [join(folder, 'plain.sqlite')], {
		input: script,
		stdio: ['pipe', 'ignore', 'inherit']
	});
	const other = Number(process.hrtime.bigint() - start) / 1e6;
	report('feed.load', ours, other, 'ms', `1,000,000 entries, ${Math.round(statSync(file).size / 1e6)} MB`);
}

export async function benchData(): Promise<void> {
	const folder = mkdtempSync(join(tmpdir(), 'bench-'));
	const db = await openDatabase(join(folder, 'bench.sqlite'));
	try {
		await storeCompany(db, company());
		await benchCopy(db);
		await benchFeed(db, folder);
	} finally {
		await db.destroy();
		rmSync(folder, { recursive: true, force: true });
	}
}
