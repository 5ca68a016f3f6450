/** Entities that count in other currencies, and the rates by which their figures are translated. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { addContributor, newCompany, sameFolder } from '../../../../tests/support/new-company';
import { switchModule } from '../company/modules';
import { companyState } from '../company/structure';
import { check } from '../platform/check';
import type { User } from '../platform/auth/sessions';
import { asOne } from '../platform/context';
import { openDatabase } from '../platform/db/connect';
import { varianceReport } from '../reports/variance';
import { readDepartmentPlan } from '../accounts/department-plan';
import { readUnder } from '../accounts/plan-parts';
import { saveCells } from '../changes/save-cells';
import { openFigure } from '../reports/traces';
import { setLock } from '../scenarios/close';
import { changeScenario } from '../scenarios/list';
import { changeAccount, AccountChange } from './chart';
import { addDepartments, changeDepartment, DepartmentChange, NewDepartments } from './departments';
import { addEntity, changeEntity } from './entities';
import {
	addRateSet,
	changeRateSet,
	loadRates,
	NewRateSet,
	RateCells,
	rateSetsOf,
	RateText,
	removeRateSet,
	typeRates
} from './rates';

const JAN25 = 2025 * 12;
const JAN26 = 2026 * 12;
let db: Knex;
let user: User;
/** Last year Advisory earned 12,000 and Support, which will count in euro, 2,400: each 1,000 and 200 a month. */
const LAST_YEAR = [
	'Account,Name,Balance,Department',
	'3400,Consulting fees,-12000,Advisory',
	'3400,Consulting fees,-2400,Support'
].join('\n');
beforeEach(async () => {
	db = await openDatabase(':memory:');
	user = await newCompany(db, {
		departments: 'Advisory\nSupport',
		year: 2026,
		history: { content: LAST_YEAR, through: '2025-12' },
		begins: 'last-year'
	});
	await addContributor(db);
	await switchModule({ db, user }, { module: 'currencies', on: true });
});
afterEach(() => db.destroy());
const asAda = () => ({ db, user });
const asBen = () => ({
	db,
	user: { ...user, email: 'ben@lind.example', role: 'contributor', departments: ['support'] } as User
});
const account = async () => {
	const { accounts } = (await companyState(db)).structure;
	return accounts.all.find((a) => a.name === 'Consulting fees')!.code;
};
const budget = async () => ((await db('scenario').first('code')) as { code: string }).code;
const inEuro = async () => {
	const oy = await addEntity(asAda(), { name: 'Lind Oy', currency: 'EUR' });
	return changeDepartment(asAda(), 'support', check({ entity: oy.code }, DepartmentChange));
};
const type = async (set: string, cells: object[]) => {
	const { calendar } = await companyState(db);
	return typeRates(asAda(), set, check({ cells }, RateCells(calendar)).cells);
};
const load = (set: string, text: string, dry = false) =>
	loadRates(asAda(), set, check({ text, dry }, RateText));
const make = (name: string, from: string | null = null) =>
	addRateSet(asAda(), check({ name, from }, NewRateSet));
/** The same rate for all months of two years. */
const flat = (average: number, closing = average) =>
	Array.from({ length: 24 }, (_, i) => {
		const month = `${2025 + Math.floor(i / 12)}-${String((i % 12) + 1).padStart(2, '0')}`;
		return `EUR,${month},${average},${closing}`;
	}).join('\n');
const report = async (more: object = {}) =>
	varianceReport(asAda(), {
		scenario: await budget(),
		against: 'last-year',
		department: 'lind',
		period: JAN26 + 11,
		span: 'year',
		threshold: { amount: 0, percent: 0 },
		...more
	});
const fees = async (more: object = {}) => {
	const code = await account();
	return (await report(more)).rows.find((r) => r.account === code)!;
};
const roundTrip = () => sameFolder(db);

describe('an entity in another currency', () => {
	it('has its figures read in it, and added up in the reporting one by the rates of actuals', async () => {
		expect(await fees()).toMatchObject({ a: 14_400, b: 14_400 });
		const before = await roundTrip();
		expect(before.has('rate-sets.csv')).toBe(false);
		expect((await inEuro()).moved).toEqual([
			{ scenario: 'Actuals', currency: 'CHF', amount: 2_400 },
			{ scenario: 'FY26 Budget', currency: 'CHF', amount: 2_400 }
		]);
		const { sets, foreign } = await rateSetsOf(asAda());
		expect(foreign).toEqual(['EUR']);
		expect(sets).toMatchObject([{ code: 'current', actuals: true }]);
		// Without rates nothing is added up, and what is missing is said.
		const bare = await report();
		expect(bare).toMatchObject({ money: 'reporting', currency: 'CHF', splits: true });
		expect(bare.missing[0]).toMatch(/^EUR average Jan 26 – Dec 26 \(FY26 Budget\)/);
		expect(await fees()).toMatchObject({ a: '#RATE!', difference: '#RATE!', currency: '#RATE!' });
		expect(await fees({ department: 'support' })).toMatchObject({ a: 2_400, b: 2_400 });
		expect(await fees({ money: 'local' })).toMatchObject({ a: '#MIXED!' });
		expect((await load('current', flat(0.9))).changes).toHaveLength(24);
		expect(await fees()).toMatchObject({ a: 12_000 + 2_400 * 0.9 });
		expect((await report()).missing).toEqual([]);
		const files = await roundTrip();
		expect(files.get('entities.csv')).toContain('lind-oy,Lind Oy,EUR');
		expect(files.get('rates.csv')).toContain('current,EUR,2026-12,0.9,0.9');
	});

	it('tells currency from performance: revenue 12,000 against 11,000 at 0.86 and 0.84 is 240 and 840', async () => {
		await db.destroy();
		db = await openDatabase(':memory:');
		user = await newCompany(db, {
			departments: 'Advisory\nSupport',
			year: 2026,
			history: {
				content: 'Account,Name,Balance,Department\n3400,Consulting fees,-11000,Support',
				through: '2025-12'
			},
			begins: 'empty'
		});
		await switchModule(asAda(), { module: 'currencies', on: true });
		await inEuro();
		const line = await account();
		const edits = [{ block: 'accounts', line, row: 'support', period: JAN26, before: null, value: 12_000 }];
		const b = await budget();
		await asOne(asAda(), (within) => saveCells(within, b, edits));
		await load('current', flat(0.84).replaceAll(/2026-(..),0.84,0.84/g, '2026-$1,0.86,0.86'));
		for (const department of ['support', 'lind']) {
			const row = await fees({ department, money: 'reporting' });
			expect(row.a).toBeCloseTo(10_320, 9);
			expect(row.b).toBeCloseTo(9_240, 9);
			expect(row.difference).toBeCloseTo(1_080, 9);
			expect(row.currency).toBeCloseTo(240, 9);
			expect(row.performance).toBeCloseTo(840, 9);
		}
		expect(await fees({ department: 'support' })).toMatchObject({ a: 12_000, difference: 1_000 });
		expect((await fees({ department: 'support' })).currency).toBeUndefined();
	});

	it('is translated by the set that its scenario chooses', async () => {
		await inEuro();
		await load('current', flat(0.86));
		const { code } = await make('Budget rates');
		await load(code, flat(0.84));
		const b = await budget();
		await changeScenario(asAda(), b, { rates: code });
		const support = (scenario: string, period: number) =>
			fees({ scenario, department: 'support', money: 'reporting', period });
		expect((await support(b, JAN26 + 11)).a).toBeCloseTo(2_400 * 0.84, 9);
		expect((await support(b, JAN26 + 11)).b).toBeCloseTo(2_400 * 0.84, 9);
		expect((await support('actuals', JAN25 + 11)).a).toBeCloseTo(2_400 * 0.86, 9);
		await expect(changeScenario(asAda(), b, { rates: 'none' })).rejects.toMatchObject({ status: 404 });
		await expect(removeRateSet(asAda(), code)).rejects.toThrow(
			/“FY26 Budget” is translated by, so it cannot go/
		);
		expect((await roundTrip()).get('scenarios.csv')).toMatch(/,budget-rates\n/);
		await changeScenario(asAda(), b, { rates: null });
		expect((await support(b, JAN26 + 11)).a).toBeCloseTo(2_400 * 0.86, 9);
	});

	it('is planned in it: shown in the reporting one, it cannot be typed, and says where it can', async () => {
		await inEuro();
		await load('current', flat(0.9));
		const b = await budget();
		const read = (who: ReturnType<typeof asAda>, money: 'local' | 'reporting' | null) =>
			readDepartmentPlan(who, b, 'support', JAN26, JAN26 + 11, null, money);
		const code = await account();
		const own = await read(asBen(), null);
		expect(own).toMatchObject({ money: 'local', currency: 'EUR' });
		expect(own.rows.find((r) => r.account === code)!.total).toBe(2_400);
		const shown = await read(asAda(), 'reporting');
		expect(shown).toMatchObject({ currency: 'CHF', right: { editable: false } });
		expect(shown.right.reason).toMatch(/planned in EUR; here it is shown in CHF/);
		expect(shown.rows.find((r) => r.account === code)).toMatchObject({
			total: 2_160,
			typed: null,
			open: false
		});
		// What is typed over departments of several currencies has no way down but in that in which they add up.
		const under = await readUnder(asAda(), {
			scenario: b,
			department: 'lind',
			account: code,
			from: JAN26,
			to: JAN26,
			money: 'reporting'
		});
		expect(Object.fromEntries(under.map((u) => [u.department, u.rates]))).toMatchObject({ support: [0.9] });
		expect(under.filter((u) => u.currency === 'CHF').every((u) => u.rates === undefined)).toBe(true);
		await expect(
			readUnder(asAda(), { scenario: b, department: 'lind', account: code, from: JAN26, to: JAN26 })
		).rejects.toThrow(/plan in several currencies/);
	});

	it('opens a translated figure into the amount and its rate', async () => {
		await inEuro();
		await load('current', flat(0.9, 0.95));
		const ref = {
			kind: 'account' as const,
			account: await account(),
			department: 'support',
			from: JAN26,
			to: JAN26,
			money: 'reporting' as const
		};
		const { trace, place } = await openFigure(asAda(), await budget(), ref);
		expect(place).toMatch(/ · CHF$/);
		expect(trace.value).toBeCloseTo(180, 9);
		expect(trace.explanations).toMatchObject([
			{
				kind: 'translated',
				from: 'EUR',
				rate: { kind: 'average', value: 0.9 },
				parts: [{ value: 200, ref: { money: 'local' } }]
			}
		]);
	});

	it('does not change where a locked scenario has figures', async () => {
		await setLock(asAda(), await budget(), true, '');
		await expect(inEuro()).rejects.toThrow(/“Support” has figures in “FY26 Budget.*locked/);
		await expect(changeEntity(asAda(), 'lind', { currency: 'USD' })).rejects.toThrow(
			/which is locked, so its currency stays/
		);
		expect((await companyState(db)).structure.money.local).toBe('CHF');
	});

	it('is guarded by a locked scenario also while no rate is known, in which nothing adds up', async () => {
		await inEuro();
		await setLock(asAda(), await budget(), true, '');
		await expect(changeEntity(asAda(), 'lind-oy', { currency: 'USD' })).rejects.toThrow(/its currency stays/);
		await expect(
			changeDepartment(asAda(), 'support', check({ entity: 'lind' }, DepartmentChange))
		).rejects.toThrow(/stays whose it is/);
		// The same of accounts: fees that would be cost.
		await expect(
			changeAccount(asAda(), await account(), check({ type: 'expense' }, AccountChange))
		).rejects.toThrow(/This would change .*, which is locked/);
	});

	it('has what moves said in its own currency, and without a rate no sum of several', async () => {
		await inEuro();
		const { moved } = await changeEntity(asAda(), 'lind-oy', { currency: 'USD', dry: true });
		expect(moved).toContainEqual({ scenario: 'FY26 Budget', currency: 'EUR', amount: 2_400 });
		const fees = await changeAccount(
			asAda(),
			await account(),
			check({ type: 'expense', dry: true }, AccountChange)
		);
		expect(fees.moved).toContainEqual({ scenario: 'FY26 Budget', currency: 'CHF', amount: null });
	});

	it('says what would be read in another currency, and is asked for before', async () => {
		const { moved } = await changeEntity(asAda(), 'lind', { currency: 'EUR', dry: true });
		expect(moved.map((m) => m.amount)).toContain(14_400);
		expect((await companyState(db)).structure.entities[0].currency).toBe('CHF');
		expect((await changeEntity(asAda(), 'lind', { name: 'Lind AG' })).moved).toEqual([]);
	});

	it('may come with departments that are added to it', async () => {
		await addEntity(asAda(), { name: 'Lind Inc', currency: 'USD' });
		await addDepartments(
			asAda(),
			check({ parent: 'lind', outline: 'Boston', entity: 'lind-inc' }, NewDepartments)
		);
		expect((await rateSetsOf(asAda())).foreign).toEqual(['USD']);
	});
});

describe('rates', () => {
	const cell = (value: number | null, before: number | null = null, more: object = {}) => ({
		currency: 'EUR',
		kind: 'average',
		period: '2026-01',
		before,
		value,
		...more
	});
	it('are typed, and not over what somebody else has typed since', async () => {
		await inEuro();
		expect(await type('current', [cell(0.91), cell(0.92, null, { kind: 'closing' })])).toEqual({ saved: 2 });
		await expect(type('current', [cell(0.93)])).rejects.toMatchObject({
			status: 409,
			message: expect.stringMatching(/average rate of EUR in Jan 26 meanwhile: it is 0\.91/)
		});
		expect(await type('current', [cell(null, 0.91)])).toEqual({ saved: 1 });
		const [set] = (await rateSetsOf(asAda())).sets;
		expect(set.currencies).toMatchObject([{ currency: 'EUR', average: null, closing: { values: [0.92] } }]);
		const entries = await db('journal').where({ kind: 'rates' });
		expect(entries.at(-1)).toMatchObject({ user: 'ada@lind.example', subject: 'rates/current' });
		expect(entries.at(-1).before).toContain('0.91');
	});
	it.each([
		['0', { value: 0 }],
		['below 0', { value: -0.9 }],
		['beyond all', { value: 1e12 }],
		['of no currency', { currency: 'EUX' }],
		['of no month', { period: '2026-13' }]
	])('of %s are refused', async (_, wrong) => {
		await inEuro();
		await expect(type('current', [cell(1, null, wrong)])).rejects.toMatchObject({ status: 400 });
	});
	it('have none of the reporting currency', async () => {
		await inEuro();
		await expect(type('current', [cell(1, null, { currency: 'CHF' })])).rejects.toThrow(/its rate is 1/);
	});
	it('are loaded from lines in any order of columns, with commas for decimals, and shown before', async () => {
		await inEuro();
		const tabs = 'Period\tClosing\tCurrency\tAverage\n2026-01\t0,95\teur\t0,94\n2026-02\t0,96\tEUR\t';
		const dry = await load('current', tabs, true);
		expect(dry.changes).toMatchObject([
			{ currency: 'EUR', period: JAN26, average: 0.94, closing: 0.95, before: { average: null } },
			{ period: JAN26 + 1, average: null, closing: 0.96 }
		]);
		expect((await rateSetsOf(asAda())).sets[0].currencies[0].average).toBeNull();
		await load('current', tabs);
		// Loaded again, nothing differs; a rate that is left out stays.
		expect(await load('current', tabs)).toMatchObject({ read: 2, changes: [] });
	});
	it('that cannot be read are told line by line, and none is taken', async () => {
		await inEuro();
		const wrong = [
			'EUR;2026-01;0,9;0,9',
			'XXQ;2026-01;1;1',
			'EUR;January;1;1',
			'EUR;2026-02;-1;0',
			'EUR;2026-03;;',
			'EUR;2026-01;0,8;0,8',
			'CHF;2026-01;1;1'
		].join('\n');
		const refused = await load('current', wrong).catch((e) => e);
		expect(refused.status).toBe(422);
		expect(refused.faults.map((f: { row: number; message: string }) => `${f.row} ${f.message}`)).toEqual([
			'2 “XXQ” is no currency such as EUR (ISO 4217)',
			'3 “January” is no month such as 2026-10',
			'4 “-1” is no average rate above 0',
			'4 “0” is no closing rate above 0',
			'5 there is no rate',
			'6 EUR Jan 26 stands in line 1 already',
			'7 CHF is what rates are given in; its own is 1'
		]);
		expect((await rateSetsOf(asAda())).sets[0].currencies[0].average).toBeNull();
	});
	it('by which a locked scenario is translated stay; others of the set can be given', async () => {
		await inEuro();
		await load('current', 'EUR,2026-01,0.9,0.9');
		await setLock(asAda(), await budget(), true, '');
		await expect(type('current', [cell(0.95, 0.9)])).rejects.toThrow(
			/“FY26 Budget.* locked .* those rates stay/
		);
		// What it lacks can be given, and what comes after its months; last year is looked back on.
		await type('current', [cell(0.9, null, { period: '2026-02' }), cell(0.9, null, { period: '2025-01' })]);
		await expect(type('current', [cell(0.8, 0.9, { period: '2025-01' })])).rejects.toThrow(
			/those rates stay/
		);
		await type('current', [cell(0.9, null, { period: '2027-01' })]);
		await type('current', [cell(0.8, 0.9, { period: '2027-01' })]);
		const { code } = await make('Others', 'current');
		await expect(changeRateSet(asAda(), code, { actuals: true })).rejects.toThrow(/locked/);
		await expect(changeScenario(asAda(), await budget(), { rates: code })).rejects.toThrow(/is locked/);
	});
	it('stand in sets: begun with those of another, named once, one of them for actuals', async () => {
		await inEuro();
		await load('current', flat(0.9));
		const { code } = await make('Budget rates', 'current');
		await expect(make('Budget rates')).rejects.toMatchObject({ status: 409 });
		await changeRateSet(asAda(), code, { name: 'Plan rates', actuals: true });
		const { sets } = await rateSetsOf(asAda());
		expect(sets.map((s) => [s.name, s.actuals, s.currencies[0].average!.values.length])).toEqual([
			['Current rates', false, 24],
			['Plan rates', true, 24]
		]);
		await expect(removeRateSet(asAda(), code)).rejects.toThrow(/Actuals are translated by/);
		await removeRateSet(asAda(), 'current');
		expect((await rateSetsOf(asAda())).sets).toHaveLength(1);
	});
	it('are the analyst’s', async () => {
		await inEuro();
		await expect(rateSetsOf(asBen())).rejects.toMatchObject({ status: 403 });
		await expect(addRateSet(asBen(), { name: 'X', from: null })).rejects.toMatchObject({ status: 403 });
		await expect(typeRates(asBen(), 'current', [])).rejects.toMatchObject({ status: 403 });
	});
});

it('translation differences have one account, of equity', async () => {
	const { accounts } = (await companyState(db)).structure;
	const equity = accounts.all
		.filter((a) => a.type === 'equity' && accounts.isLeaf(a.code))
		.map((a) => a.code);
	const mark = (code: string) => changeAccount(asAda(), code, check({ translation: true }, AccountChange));
	await mark(equity[0]);
	await mark(equity[1]);
	const now = (await companyState(db)).structure.accounts;
	expect(now.all.filter((a) => a.translation).map((a) => a.code)).toEqual([equity[1]]);
	await expect(mark(await account())).rejects.toThrow(/is no equity/);
});
