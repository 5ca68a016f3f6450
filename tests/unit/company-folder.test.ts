/** The company folder: out and in again without loss, and every fault with its place. */
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { octoberFile, kelpwick } from '../../demo/generate';
import { readFolder, saveFolder } from '../../src/lib/server/transfer/folder';
import { readCompany, readStored, storeCompany, writeCompany } from '../../src/lib/server/company/subjects';
import type { Assumption } from '../../src/lib/server/company/reading';
import { loadCompany } from '../../src/lib/server/transfer/load';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { putProfile } from '../../src/lib/server/accounts/profiles';
import { saveFormula } from '../../src/lib/server/models/models';
import { changeScenario } from '../../src/lib/server/scenarios/list';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { departmentFigures } from '../../src/lib/server/rounds/submissions';
import { contentOf, DEMO, loaded, PRAXIS, userOf } from '../support/company';

describe.each([DEMO, PRAXIS])('%s', (folder) => {
	const home = mkdtempSync(join(tmpdir(), 'folder-'));
	beforeEach(() => rmSync(home, { recursive: true, force: true }));
	afterEach(() => rmSync(home, { recursive: true, force: true }));

	it('comes out as it went in, and gives the same figures again', async () => {
		const first = await loaded(folder);
		await saveFolder(first, home);
		expect([...readFolder(home)].sort()).toEqual([...readFolder(folder)].sort());
		const second = await loaded(home);
		for (const { code } of await first('scenario').select('code'))
			for (const department of (await planOf(first, code)).structure.departmentRows)
				expect(departmentFigures(await planOf(second, code), department.code)).toEqual(
					departmentFigures(await planOf(first, code), department.code)
				);
		expect(await contentOf(second)).toBe(await contentOf(first));
		await first.destroy();
		await second.destroy();
	});

	it('may lack columns that have come later', () => {
		const files = readFolder(folder);
		// Then every scenario had all models.
		files.delete('scenarios/fy28-targets/values.csv');
		files.set('scenarios.csv', files.get('scenarios.csv')!.replace(/^fy28-targets,.*\n/m, ''));
		files.set('scenarios.csv', files.get('scenarios.csv')!.replace(',fy28-targets,', ',,'));
		const older = new Map(
			[...files].map(([f, text]) => {
				if (f.endsWith('/bases.csv')) return [f, withoutLast(text, 2)];
				if (f === 'scenarios.csv') return [f, withoutLast(text, 8)];
				if (f === 'accounts.csv') return [f, withoutLast(text, 2)];
				if (f === 'entities.csv') return [f, withoutLast(text, 1)];
				return [f, f === 'journal.csv' ? withoutLast(text, 1) : text];
			})
		);
		const none: Assumption[] = [];
		const assumed: Assumption[] = [];
		const now = readCompany(files, none);
		expect(none).toEqual([]);
		expect(readCompany(older, assumed)).toEqual({
			...now,
			accounts: now.accounts.map((a) => ({ ...a, cashFlow: null, translation: false })),
			entities: now.entities.map((e) => ({ ...e, currency: now.company.currency })),
			scenarios: now.scenarios.map((s) => ({
				...s,
				scenario: {
					...s.scenario,
					folder: '',
					visibility: 'all',
					people: [],
					owner: '',
					target: null,
					rates: null
				}
			}))
		});
		// Once a file, and in words.
		expect(assumed.filter((a) => !a.file.startsWith('scenarios/'))).toEqual(
			expect.arrayContaining([
				{
					file: 'entities.csv',
					column: 'currency',
					means: 'every legal entity counts in the company’s currency'
				},
				{ file: 'scenarios.csv', column: 'owner', means: 'no scenario has an owner' }
			])
		);
	});

	it('does not write over a folder that holds something', async () => {
		const db = await loaded(folder);
		await expect(saveFolder(db, folder)).rejects.toThrow(/not empty/);
		await db.destroy();
		expect(existsSync(`${folder}.writing`)).toBe(false);
	});
});

it('targets and seasonal profiles come out as they went in', async () => {
	const home = mkdtempSync(join(tmpdir(), 'folder-'));
	rmSync(home, { recursive: true });
	const first = await loaded(DEMO);
	const maren = await userOf(first, 'maren');
	const targets = await copyScenario({ db: first, user: maren }, 'fy28-budget', 'FY28 targets', 'target');
	await changeScenario({ db: first, user: maren }, 'fy28-budget', { target: targets });
	const weights = [1, 2, 3, 4, 5, 6, 6, 5, 4, 3, 2, 1];
	await putProfile({ db: first, user: maren }, { code: null, name: 'Summer', weights });
	await saveFolder(first, home);
	const data = readCompany(readFolder(home));
	expect(data.profiles).toEqual([{ code: 'summer', name: 'Summer', weights }]);
	expect(data.scenarios.find((s) => s.scenario.code === 'fy28-budget')!.scenario.target).toBe(targets);
	const second = await loaded(home);
	const figures = ['scenario', 'series', 'profile'];
	const rows = async (db: Knex) =>
		(await contentOf(db, figures)).replace(/\\"(revision|deleted)\\":[^,}]*/g, '');
	expect(await rows(second)).toBe(await rows(first));
	await first.destroy();
	await second.destroy();
	rmSync(home, { recursive: true, force: true });
});

it('the demo folder is what its generator makes', async () => {
	const { data, october } = await kelpwick();
	expect([...writeCompany(data)].sort()).toEqual([...readFolder(DEMO)].sort());
	expect(octoberFile(data, october)).toBe(readFolder('demo/inbox').get('ledger-2026-10.csv'));
});

it('a company is not loaded over another', async () => {
	const db = await loaded(PRAXIS);
	const before = await contentOf(db);
	await expect(storeCompany(db, readCompany(readFolder(DEMO)))).rejects.toThrow(/holds a company already/);
	expect(await contentOf(db)).toBe(before);
	await db.destroy();
});

/** The table as it was before bases could name drivers. */
/** A table without its last columns, none of whose cells holds a comma. */
const withoutLast = (text: string, columns: number) =>
	text
		.split('\n')
		.map((line) => line.replace(new RegExp(`(,[^,]*){${columns}}$`), ''))
		.join('\n');

/** A table with its rows in the opposite order. */
const upsideDown = (text: string) => {
	const [heading, ...rows] = text.trimEnd().split('\n');
	return `${[heading, ...rows.reverse()].join('\n')}\n`;
};

describe('a model of which scenarios have different forms', () => {
	it('is filed in the form that most of them use, and beside it only what differs', async () => {
		const db = await loaded(DEMO);
		const maren = await userOf(db, 'maren');
		const forms = async () => {
			const files = writeCompany(await readStored(db));
			return [...files.keys()].filter((f) => /(^|\/)models\/boat_sales\.json$/.test(f));
		};
		const formula = async (scenarios: string[], text: string) => {
			const [scenario, ...also] = scenarios;
			await saveFormula(
				{ db, user: maren },
				{ scenario, model: 'boat_sales', line: 'revenue', formula: text, also }
			);
		};
		const open = (await db('scenario').where({ locked: false }).pluck('code')) as string[];
		expect(open.length).toBeGreaterThan(2);
		expect(await forms()).toEqual(['models/boat_sales.json']);
		await formula([open[0]], 'units * price * 1');
		expect(await forms()).toEqual(['models/boat_sales.json', `scenarios/${open[0]}/models/boat_sales.json`]);
		const files = writeCompany(await readStored(db));
		expect(files.get('models/boat_sales.json')).not.toContain('units * price * 1');
		expect(writeCompany(readCompany(files))).toEqual(files);
		await db.destroy();
	});
});

describe('bad files', () => {
	/** Faults of the second company with one file changed. */
	function faultsOf(file: string, change: (content: string) => string | undefined): string[] {
		const files = readFolder(PRAXIS);
		const changed = change(files.get(file) ?? '');
		if (changed === undefined) files.delete(file);
		else files.set(file, changed);
		try {
			readCompany(files);
			return [];
		} catch (e) {
			if (!(e instanceof Refusal)) throw e;
			return e.faults.map((f) => `${f.file}:${f.row ?? ''}:${f.column ?? ''}: ${f.message}`);
		}
	}
	const replace = (from: string | RegExp, to: string) => (c: string) => {
		if (typeof from === 'string' ? !c.includes(from) : !from.test(c))
			throw new Error(`${from} is not in the file`);
		return c.replace(from, to);
	};

	it.each([
		['accounts.csv', () => undefined, /^accounts\.csv::: is missing/],
		['accounts.csv', replace('code,name', 'kode,name'), /accounts\.csv:1:code: the column “code” is missing/],
		[
			'accounts.csv',
			replace('fees,Treatment fees,income,revenue', 'fees,Treatment fees,income,turnover'),
			/accounts\.csv:4:type: “turnover” was found; one of revenue,/
		],
		[
			'accounts.csv',
			replace('lab,Laboratory,income', 'lab,Laboratory,incomes'),
			/accounts\.csv:5:parent: the parent “incomes” of “lab” does not exist/
		],
		['accounts.csv', replace('result,Result,,', 'result,Result,income,'), /its own ancestor/],
		[
			'departments.csv',
			replace('labor,Laboratory,all,ag', 'labor,Laboratory,all,gmbh'),
			/departments\.csv:4:entity: the entity “gmbh” is not in entities\.csv/
		],
		[
			'ledger-accounts.csv',
			replace('E-110,Laboratory,lab', 'E-110,Laboratory,income'),
			/ledger-accounts\.csv:3:account: “income” is no planning account that takes figures/
		],
		[
			'ledger/2026-02.csv',
			replace('2026-02-15,E-110,labor', '2026-02-15,E-110,lager'),
			/ledger\/2026-02\.csv:4:department: “lager” is no department/
		],
		[
			'ledger/2026-02.csv',
			replace('-9215.25', 'ninethousand'),
			/ledger\/2026-02\.csv:4:amount: “ninethousand” was found; a number such as 1234\.56/
		],
		[
			'ledger/2026-02.csv',
			replace('2026-02-15,E-110', '2026-03-15,E-110'),
			/:4:date: 2026-03-15 does not lie in the file/
		],
		['ledger/2026-02.csv', replace(',private', ',privat'), /:group: there is no group “privat”/],
		[
			'models/visits.json',
			replace('patients * fee', 'patients * fees'),
			/models\/visits\.json::lines\.income\.formula: There is no line “fees”.*“fee”/
		],
		['models/visits.json', replace('patients * fee', 'patients * '), /ends too early/],
		['models/visits.json', replace('weighted:patients', 'weighted:heads'), /weighted by “heads”/],
		[
			'models/visits.json',
			replace('"code": "fees"', '"code": "gifts"'),
			/postings\.account: “gifts” is no planning account/
		],
		['models/visits.json', (c: string) => c.slice(0, -5), /not readable as JSON/],
		[
			'models/visits.rows.csv',
			replace('insured', 'insurd'),
			/models\/visits\.rows\.csv:3:group: there is no group “insurd”/
		],
		[
			'scenarios.csv',
			replace('2026-01', '2026-13'),
			/scenarios\.csv:2:first: “2026-13” was found; a month such as 2026-10/
		],
		[
			'scenarios.csv',
			replace('yes,,,all,,,,', 'yes,,,all,,,b26,'),
			/scenarios\.csv:2:target: “b26” is no other scenario/
		],
		[
			'scenarios/f2/values.csv',
			replace('visits,fee,', 'visits,income,'),
			/“income” is calculated and takes no values/
		],
		[
			'scenarios/f2/values.csv',
			replace('90.5', 'x'),
			/scenarios\/f2\/values\.csv:\d+:2026-01: “x” was found/
		],
		[
			'scenarios/f2/bases.csv',
			replace('run-rate,,,2', 'run-rate,,,'),
			/bases\.csv:\d+:months: a number of months from 1 to 36/
		],
		[
			'scenarios/f2/bases.csv',
			replace('last-year,0.04,,,,', 'driver,,,,visits.gone,3'),
			/bases\.csv:2:driver: “visits\.gone” is no line of a driver model/
		],
		[
			'models/visits.json',
			replace('fee * patients', 'fee * patient'),
			/lines\.income\.scoped\.1\.formula: .*Did you mean “patients”/
		],
		[
			'users.csv',
			replace('analyst', 'boss'),
			/users\.csv:2:role: “boss” was found; one of analyst, contributor, reviewer, viewer/
		],
		['company.json', replace('"CHF"', '"Franken"'), /company\.json::currency/],
		[
			'company.json',
			replace('"fiscalStart": 1', '"fiscalStart": 13'),
			/company\.json::calendar\.fiscalStart/
		],
		[
			'accounts.csv',
			(c: string) => `${c}kwh,Energy used,cost,statistical,sum,number,,\n`,
			/accounts\.csv:12:type: “Energy used” is a statistic.*do not add up/
		],
		[
			'accounts.csv',
			(c: string) => `${c}fees,Fees,income,revenue,sum,money,,\n`,
			/:12:code: “fees” stands twice/
		],
		[
			'accounts.csv',
			replace(
				'fees,Treatment fees,income,revenue,sum,money,,',
				'fees,Treatment fees,income,revenue,sum,money,,yes'
			),
			/accounts\.csv:4:translation: .*is no equity/
		],
		[
			'entities.csv',
			replace('Bach AG,CHF', 'Bach AG,FRS'),
			/entities\.csv:2:currency: “FRS” was found; an ISO 4217/
		],
		[
			'rate-sets.csv',
			() => 'code,name,actuals\na,A,no\n',
			/rate-sets\.csv:2:actuals: one set has to be that of actuals/
		],
		[
			'rate-sets.csv',
			() => 'code,name,actuals\na,A,yes\nb,B,yes\n',
			/rate-sets\.csv:3:actuals: one set .* no more than one/
		],
		[
			'rates.csv',
			() => 'set,currency,period,average,closing\nnone,EUR,2026-01,0.9,0.9\n',
			/rates\.csv:2:set: “none” is not in rate-sets\.csv/
		],
		[
			'rates.csv',
			() => 'set,currency,period,average,closing\nnone,EUR,2026-01,-1,0\n',
			/rates\.csv:2:average: “-1” was found; a rate above 0[^]*rates\.csv:2:closing/
		],
		[
			'rates.csv',
			() => 'set,currency,period,average,closing\nnone,CHF,2026-01,1,1\n',
			/rates\.csv:2:currency: CHF is the currency that the company reports in/
		],
		[
			'scenarios.csv',
			replace(',,all,,,,,,', ',,all,,,,,,none'),
			/scenarios\.csv:2:rates: “none” is not in rate-sets/
		],
		['accounts.csv', replace('Treatment', 'Treat\u202ement'), /accounts\.csv:4:name: .*U\+202E/],
		['company.json', replace('"2026-02"', '"2026-03"'), /closedThrough: no ledger month so late/],
		[
			'ledger/2026-02.csv',
			replace(',34000,', ',1e16,'),
			/ledger\/2026-02\.csv:\d+:amount: “1e16” was found; a number of at most 10\^15/
		],
		['ledger/9999-01.csv', () => 'date\n', /ledger\/9999-01\.csv::name: .*a month from 2001-11 to 2027-11/],
		[
			'models/visits.rows.csv',
			(c: string) => `${c}insured\n`,
			/models\/visits\.rows\.csv:4:group: the combination stands twice/
		],
		[
			'dimensions/group.csv',
			replace('insured,Insured,', 'insured,Insured,private'),
			/models\/visits\.rows\.csv:2:group: “Private” is a total of others/
		],
		[
			'models/visits.json',
			replace('"code": "fees"', '"code": "bank"'),
			/postings\.account: “Bank” is a balance \(asset\)\. Balances are not typed/
		],
		[
			'scenarios/f2/values.csv',
			replace('accounts,wages,labor', 'accounts,bank,labor'),
			/values\.csv:2:line: “Bank” is a balance/
		],
		[
			'scenarios/f2/values.csv',
			replace(',2027-02', ',2027-03'),
			/values\.csv:1:block: the months must follow one another/
		],
		['scenarios.csv', replace('2027-02', '2027-01'), /values\.csv:1:2027-02: the scenario ends with 2027-01/],
		[
			'scenarios/f2/bases.csv',
			replace('percent-of,0.2,lab', 'percent-of,0.2,bank'),
			/bases\.csv:4:of_account: “Bank” is a balance/
		],
		[
			'scenarios/f2/bases.csv',
			(c: string) => `${c}rent,office,typed,,,,,\n`,
			/bases\.csv:5:department: “rent office” stands twice/
		],
		[
			'scenarios.csv',
			replace('2025-12', '2026-03'),
			/scenarios\.csv:2:actuals_through: the ledger ends with 2026-02/
		],
		[
			'scenarios.csv',
			replace('2026-01,2027-02,2026-02,', '2027-02,2027-02,2026-02,b26'),
			/scenarios\.csv:3:follows: “Budget 2026” spans 2026-01 to 2026-12; 2027-01 to 2027-01 would be nobody’s plan/
		],
		[
			'scenarios/f2/adjustments.json',
			() =>
				JSON.stringify([
					{
						code: 'a',
						name: 'A',
						on: true,
						steps: [
							{
								operation: 'add',
								value: 1,
								lines: [{ block: 'visits', line: 'fee' }],
								where: { region: 'north' }
							}
						]
					}
				]),
			/adjustments\.json::1\.steps\.1\.where: the model “Visits” has no dimension “region”/
		],
		[
			'submissions.csv',
			() =>
				'round,department,state,due,figures\nr,labor,drafting,2026-03-01,\nr,labor,drafting,2026-03-01,\n',
			/submissions\.csv:3:department: “r labor” stands twice/
		]
	])('%s: says where and what', (file, change, expected) => {
		expect(faultsOf(file, change).join('\n')).toMatch(expected);
	});

	it('says which profile cannot be', () => {
		const fault = (profiles: unknown) => {
			const files = readFolder(PRAXIS);
			files.set('profiles.json', JSON.stringify(profiles));
			try {
				readCompany(files);
			} catch (e) {
				return (e as Refusal).faults.map((f) => `${f.file}:${f.column}: ${f.message}`).join('\n');
			}
			return '';
		};
		const profile = { code: 'a', name: 'A', weights: Array<number>(12).fill(1) };
		expect(fault([profile])).toBe('');
		expect(fault([{ ...profile, weights: [1, -1] }])).toMatch(/profiles\.json.*not negative/);
		expect(fault([{ ...profile, weights: Array<number>(12).fill(0) }])).toMatch(
			/profiles\.json.*more than 0/
		);
		expect(fault([{ ...profile, weights: [1, 2] }])).toMatch(
			/profiles\.json:1\.weights: there are 2 weights; 12/
		);
		expect(fault([profile, { ...profile, code: 'b' }])).toMatch(/profiles\.json:2: “A” stands twice/);
	});
	it('tells all faults at once', () => {
		const files = readFolder(PRAXIS);
		files.set('users.csv', files.get('users.csv')!.replace('analyst', 'boss'));
		files.set('entities.csv', 'code,name\n');
		expect(() => readCompany(files)).toThrow(Refusal);
		try {
			readCompany(files);
		} catch (e) {
			const named = new Set((e as Refusal).faults.map((f) => f.file));
			expect(named).toEqual(new Set(['users.csv', 'departments.csv']));
		}
	});

	it('is no company where a basis or formulas close a circle, or a posting leads nowhere', async () => {
		const loading = async (file: string, change: (content: string) => string) => {
			const files = readFolder(PRAXIS);
			files.set(file, change(files.get(file)!));
			const db = await openDatabase(':memory:');
			const before = await contentOf(db);
			const refusal = await loadCompany(db, readCompany(files)).then(
				() => null,
				(e: unknown) => e as Refusal
			);
			if (refusal) expect(await contentOf(db)).toBe(before);
			await db.destroy();
			return refusal?.faults.map((f) => `${f.file}: ${f.message}`).join('\n') ?? '';
		};
		expect(await loading('scenarios/f2/bases.csv', (c) => `${c}lab,office,percent-of,1,lab,,,\n`)).toMatch(
			/scenarios\/f2: .*account lab → account lab/
		);
		const visits = 'models/visits.json';
		expect(await loading(visits, (c) => c.replace('"patients * fee"', '"income * fee"'))).toMatch(
			/scenarios\/b26: .*income → visits.income/
		);
		expect(await loading(visits, (c) => c)).toBe('');
	});
	it('may list children above their parents, and scenarios above those they follow', async () => {
		const files = readFolder(PRAXIS);
		for (const file of ['accounts.csv', 'departments.csv', 'dimensions/group.csv'])
			files.set(file, upsideDown(files.get(file)!));
		files.set('scenarios.csv', files.get('scenarios.csv')!.replace('2025-12,,', '2025-12,f2,'));
		const db = await openDatabase(':memory:');
		await loadCompany(db, readCompany(files));
		expect(writeCompany(await readStored(db)).get('accounts.csv')).toBe(files.get('accounts.csv'));
		expect((await planOf(db, 'b26')).scenario.follows).toBe('f2');
		await db.destroy();
	});
	it('are not read with characters that stand for others', () => {
		const home = mkdtempSync(join(tmpdir(), 'folder-'));
		writeFileSync(join(home, 'users.csv'), Buffer.from('email,name\na@b,Ren\xe9\n', 'latin1'));
		try {
			expect(() => readFolder(home)).toThrow(
				expect.objectContaining({
					faults: [
						expect.objectContaining({ file: 'users.csv', message: expect.stringMatching(/not UTF-8/) })
					]
				})
			);
		} finally {
			rmSync(home, { recursive: true });
		}
	});
	it('changes nothing in the database when storing fails half-way', async () => {
		const data = readCompany(readFolder(PRAXIS));
		data.scenarios[1].series.push(data.scenarios[1].series[0]);
		const db = await openDatabase(':memory:');
		const before = await contentOf(db);
		await expect(storeCompany(db, data)).rejects.toThrow();
		expect(await contentOf(db)).toBe(before);
		await db.destroy();
	});
});
