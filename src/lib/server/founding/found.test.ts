import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { openDatabase } from '../platform/db/connect';
import { check } from '../platform/check';
import { Refusal } from '../platform/refusal';
import { signIn } from '../platform/auth/sessions';
import { readCompany, readStored, writeCompany } from '../company/subjects';
import { planOf } from '../scenarios/plans';
import { CHARTS } from './charts';
import { foundCompany, founded, Founding } from './found';
import { makeKey, mustHaveKey, spendKey } from './key';

const ADA = { name: 'Ada Lind', email: ' Ada@Lind.Example ', password: 'long enough' };
const WEEKS = { kind: 'weeks', grouping: '4-4-5', fiscalStart: 9, endsOn: 6, rule: 'nearest' } as const;
const answers = {
	person: ADA,
	company: { name: 'Lind & Partner', currency: 'chf', calendar: WEEKS },
	chart: 'services',
	departments: 'Advisory\n  Strategy\n  Tax\nOperations',
	year: 2028
};
const read = (change: object = {}) => check({ ...answers, ...change }, Founding);

let db: Knex;
beforeEach(async () => {
	db = await openDatabase(':memory:');
});
afterEach(() => db.destroy());

describe('a company that is set up', () => {
	it.each(CHARTS.map((c) => c.code))('with the chart “%s” is one that a folder could hold', async (chart) => {
		await foundCompany(db, read({ chart }));
		const files = writeCompany(await readStored(db));
		expect(writeCompany(readCompany(files))).toEqual(files);
		expect(files.get('departments.csv')).toBe(
			[
				'code,name,parent,entity',
				'lind-partner,Lind & Partner,,lind-partner',
				'advisory,Advisory,lind-partner,lind-partner',
				'strategy,Strategy,advisory,lind-partner',
				'tax,Tax,advisory,lind-partner',
				'operations,Operations,lind-partner,lind-partner',
				''
			].join('\n')
		);
		expect(JSON.parse(files.get('company.json')!)).toMatchObject({ currency: 'CHF', calendar: WEEKS });
	});
	it('has a budget of its year that can be calculated, and an analyst who can sign in', async () => {
		const { analyst, department } = await foundCompany(db, read());
		expect(analyst).toMatchObject({ email: 'ada@lind.example', role: 'analyst' });
		expect(department).toBe('strategy');
		const { calculation, scenario, models } = await planOf(db, 'fy28-budget');
		expect(scenario).toMatchObject({ kind: 'budget', name: 'FY28 Budget', actualsThrough: null });
		expect(scenario.last - scenario.first + 1).toBe(12);
		expect(calculation.has('assumptions', 'inflation')).toBe(true);
		expect([...models.keys()]).toEqual(['assumptions']);
		expect(await signIn(db, 'ada@lind.example', 'long enough', 'here')).toMatchObject({ name: 'Ada Lind' });
		await expect(signIn(db, 'ada@lind.example', 'long enough!', 'here')).rejects.toMatchObject({
			status: 401
		});
	});
	it('may consist of several legal entities, one of them abroad, with a rate to begin with', async () => {
		const entities = [
			{ name: 'Lind Inc', currency: 'usd', department: 0, rate: 0.88 },
			{ name: 'Lind Services', currency: 'CHF', department: 3 }
		];
		await foundCompany(db, read({ entities }));
		const files = writeCompany(await readStored(db));
		expect(writeCompany(readCompany(files))).toEqual(files);
		expect(files.get('entities.csv')).toBe(
			'code,name,currency\nlind-partner,Lind & Partner,CHF\nlind-inc,Lind Inc,USD\nlind-services,Lind Services,CHF\n'
		);
		// What lies under a department is its entity's.
		expect(files.get('departments.csv')).toMatch(
			/advisory,.*,lind-inc\nstrategy,.*,lind-inc\ntax,.*,lind-inc\noperations,.*,lind-services\n$/
		);
		expect(files.get('rate-sets.csv')).toContain('current,Current rates,yes');
		const rates = files.get('rates.csv')!.trim().split('\n');
		// The budget's year, the two before it, and the period before those.
		expect(rates).toHaveLength(1 + 37);
		expect(rates[1]).toBe('current,USD,2025-P12,0.88,0.88');
		expect(rates.at(-1)).toBe('current,USD,2028-P12,0.88,0.88');
		expect(files.get('accounts.csv')).toMatch(/,Translation difference,equity,equity,last,money,,yes\n/);
		const plan = await planOf(db, 'fy28-budget');
		expect(plan.structure.money).toEqual({ reporting: 'CHF', local: 'local currency' });
	});
	it('counts in one currency where all of its entities do', () => {
		const { rateSets, accounts } = founded(
			read({ entities: [{ name: 'Lind Services', currency: 'CHF', department: 3 }] })
		);
		expect(rateSets).toEqual([]);
		expect(accounts.some((a) => a.translation)).toBe(false);
	});
	it('says which legal entity cannot be taken', () => {
		const one = { name: 'Lind Inc', currency: 'USD', department: 0 };
		const faultsOf = (entities: object[]) => {
			try {
				founded(read({ entities }));
			} catch (e) {
				return (e as Refusal).faults.map((f) => `${f.row} ${f.message}`);
			}
			return [];
		};
		expect(faultsOf([{ ...one, department: 4 }])).toEqual(['1 “Lind Inc” has no department of its own']);
		expect(faultsOf([one, { ...one, name: 'Other' }])).toEqual(['2 “Advisory” is another entity’s already']);
		expect(faultsOf([one, { ...one, department: 3 }])).toEqual(['2 “Lind Inc” stands twice']);
		expect(() => read({ entities: [{ ...one, rate: 0 }] })).toThrow();
		expect(() => read({ entities: [{ ...one, currency: 'USX' }] })).toThrow();
	});
	it('is one department where none is named, and keeps yen whole', () => {
		const { departments, company } = founded(
			read({ departments: ' \n', company: { ...answers.company, currency: 'JPY' } })
		);
		expect(departments).toEqual([
			{ code: 'lind-partner', name: 'Lind & Partner', parent: null, entity: 'lind-partner' }
		]);
		expect(company.decimals).toBe(0);
	});
	it('is not set up a second time', async () => {
		await foundCompany(db, read());
		await expect(
			foundCompany(db, read({ company: { ...answers.company, name: 'Other' } }))
		).rejects.toMatchObject({
			status: 409
		});
		expect(await db('company').pluck('name')).toEqual(['Lind & Partner']);
		expect(await db('user').pluck('email')).toEqual(['ada@lind.example']);
	});
	it('is set up once, however many ask at the same time', async () => {
		const names = ['One', 'Two', 'Three'];
		const all = await Promise.allSettled(
			names.map((name) => foundCompany(db, read({ company: { ...answers.company, name } })))
		);
		expect(all.filter((a) => a.status === 'fulfilled')).toHaveLength(1);
		expect(await db('user').pluck('email')).toHaveLength(1);
	});
});

describe('answers that cannot be taken', () => {
	const { person, company } = answers;
	it.each([
		['person.name', { person: { ...person, name: ' ' } }, /your name is missing/],
		['person.email', { person: { ...person, email: 'ada' } }, /e-mail address/],
		['person.password', { person: { ...person, password: 'short' } }, /at least 10/],
		['company.name', { company: { ...company, name: 'A\u200bB' } }, /U\+200B/],
		['company.currency', { company: { ...company, currency: 'ZZZ' } }, /no currency/],
		[
			'company.calendar.fiscalStart',
			{ company: { ...company, calendar: { ...WEEKS, fiscalStart: 13 } } },
			/12/
		],
		['chart', { chart: 'none' }, /services/],
		['departments', { departments: 'Sales\nsales' }, /“sales” stands twice/],
		['year', { year: 2190 }, /a year from FY\d\d to FY\d\d was expected/]
	])('say where: %s', async (column, change, message) => {
		let refusal: Refusal | undefined;
		try {
			await foundCompany(db, read(change));
		} catch (e) {
			refusal = e as Refusal;
		}
		expect(refusal?.faults).toEqual([
			expect.objectContaining({ column, message: expect.stringMatching(message) })
		]);
		expect(await db('company').pluck('name')).toEqual([]);
	});
});

describe('the key', () => {
	it('is the last one that was made, and of no use once it is spent', () => {
		const first = makeKey();
		const second = makeKey();
		expect(() => mustHaveKey(first, 'a')).toThrow(/not the key/);
		expect(() => mustHaveKey('', 'a')).toThrow(Refusal);
		mustHaveKey(second, 'a');
		mustHaveKey(second, 'a');
		spendKey();
		expect(() => mustHaveKey(second, 'a')).toThrow(/not the key/);
	});
	it('cannot be guessed on and on', () => {
		const key = makeKey();
		const now = Date.now();
		for (let n = 0; n < 10; n++) expect(() => mustHaveKey(`guess ${n}`, 'b', now)).toThrow(/not the key/);
		// The right one too: whether a guess is right is not looked at any more.
		expect(() => mustHaveKey(key, 'b', now)).toThrow(/Too many/);
		mustHaveKey(key, 'c', now);
		mustHaveKey(key, 'b', now + 61_000);
	});
});
