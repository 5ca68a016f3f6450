import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { companyState } from '../company/structure';
import { attach, newCompany, sameFolder } from '../../../../tests/support/new-company';
import { mapAccounts } from '../ledger/map';
import { check } from '../platform/check';
import type { User } from '../platform/auth/sessions';
import { openDatabase } from '../platform/db/connect';
import { totalsOf } from '../../core/statements/totals';
import { planOf } from '../scenarios/plans';
import {
	AccountCells,
	AccountChange,
	addAccounts,
	changeAccount,
	NewAccounts,
	readChartOf,
	removeAccount,
	saveAccountCells
} from './chart';

const JAN26 = 2026 * 12;
let db: Knex;
let user: User;
/** Last year: fees of 12,000, pay of 8,400, rent of 1,200, advertising of 600; 2027 is planned as that. */
const LAST_YEAR = [
	'Account,Name,Balance',
	'3400,Consulting fees,-12000',
	'5000,Wages,8400',
	'6000,Office rent,1200',
	'6600,Advertising,600',
	'1020,Bank,1800'
].join('\n');
beforeEach(async () => {
	db = await openDatabase(':memory:');
	user = await newCompany(db, {
		departments: '',
		year: 2026,
		history: { content: LAST_YEAR, through: '2025-12' },
		begins: 'last-year'
	});
});
afterEach(() => db.destroy());
const asAda = () => ({ db, user });
const add = (parent: string | null, outline: string, more: object = {}) =>
	addAccounts(asAda(), check({ parent, outline, ...more }, NewAccounts));
const change = (code: string, what: object) => changeAccount(asAda(), code, check(what, AccountChange));
const lines = async (under: string) => {
	const { accounts } = (await companyState(db)).structure;
	return accounts.subtree(under).map((a) => `${'.'.repeat(accounts.depth(a.code))}${a.code} ${a.name}`);
};
/** What an account comes to in the budget, over the year. */
const total = async (account: string) => {
	const { values, start, first } = totalsOf(await planOf(db, 'fy26-budget')).of(account, null);
	const at = start + JAN26 - first;
	return Math.round(values.slice(at, at + 12).reduce((a, b) => a + b, 0) * 100) / 100;
};
const same = () => sameFolder(db);

describe('accounts that are added', () => {
	it('lie under their heading as the outline says, with codes of their own or made from names', async () => {
		const made = await add('people', '6100 Bonuses\nCanteen\n  Meals\n  6130 Drinks');
		expect(made.map((a) => [a.code, a.name, a.parent, a.type, a.rollup, a.format])).toEqual([
			['6100', 'Bonuses', 'people', 'expense', 'sum', 'money'],
			['canteen', 'Canteen', 'people', 'expense', 'sum', 'money'],
			['meals', 'Meals', 'canteen', 'expense', 'sum', 'money'],
			['6130', 'Drinks', 'canteen', 'expense', 'sum', 'money']
		]);
		expect(await lines('people')).toEqual([
			'....people People',
			'.....5000 Wages',
			'.....6100 Bonuses',
			'.....canteen Canteen',
			'......meals Meals',
			'......6130 Drinks'
		]);
		// At once in every scenario.
		expect(await total('people')).toBe(8400);
		expect((await db('journal').where({ kind: 'account' })).map((j) => j.subject)).toEqual(
			['6100', 'canteen', 'meals', '6130'].map((c) => `account/${c}`)
		);
		await same();
	});
	it('are shown before they are there', async () => {
		const before = await same();
		expect(await add('people', 'Bonuses', { dry: true })).toHaveLength(1);
		expect(await same()).toEqual(before);
	});
	it('are what is said of them where a heading holds both, and balances stand at the end', async () => {
		expect((await add('financial', 'Fees of the bank', { type: 'expense' }))[0].type).toBe('expense');
		expect((await add('current', 'Deposits'))[0]).toMatchObject({ type: 'asset', rollup: 'last' });
		expect((await add('statistics', 'Visits'))[0]).toMatchObject({ type: 'statistical', format: 'number' });
	});
	it.each([
		['a code that is there', 'people', '5000 Other wages', {}, /“5000” is there already: Wages/],
		['a code that stands twice', 'people', '51 A\n51 B', {}, /“51” is there already/],
		['a name that stands twice', 'people', 'A\nA', {}, /cannot be added/],
		['no name', 'people', ' \n ', {}, /cannot be added/],
		['a heading that is none', 'nowhere', 'A', {}, /nowhere/],
		['nothing that says what they are', null, 'A', {}, /Say what these accounts are/],
		['statistics under money', 'people', 'A', { type: 'statistical' }, /do not add up/],
		[
			'a heading that holds figures',
			'5000',
			'A',
			{},
			/“Wages” holds 1 ledger account .* cannot become a heading/
		],
		[
			'more than can be read',
			'people',
			Array.from({ length: 20_000 }, (_, i) => `A${i}`).join('\n'),
			{},
			/cannot be added/
		]
	])('are refused: %s', async (_name, parent, outline, more, message) => {
		const before = await same();
		await expect((async () => add(parent, outline, more))()).rejects.toThrow(message);
		expect(await same()).toEqual(before);
	});
});

describe('an account that is changed', () => {
	it('keeps its figures under another name', async () => {
		await change('5000', { name: 'Salaries', format: 'number' });
		expect(await lines('people')).toEqual(['....people People', '.....5000 Salaries']);
		expect(await total('people')).toBe(8400);
	});
	it('takes its figures to another heading; what goes is said before', async () => {
		const tried = await change('6600', { parent: 'running', dry: true });
		expect(tried.moved).toEqual([
			{ scenario: 'Actuals', currency: 'CHF', amount: 600 },
			{ scenario: 'FY26 Budget', currency: 'CHF', amount: 600 }
		]);
		expect([await total('selling'), await total('running')]).toEqual([600, 0]);
		await add('selling', 'Fairs');
		await change('6600', { parent: 'running' });
		expect([await total('selling'), await total('running')]).toEqual([0, 600]);
		expect(await total('profit')).toBe(1800);
		await same();
	});
	it('is put in another order, which moves nothing', async () => {
		await add('people', '5910 Bonuses\n5920 Pensions');
		expect(await change('5920', { before: '5000' })).toEqual({ moved: [] });
		await change('5000', { before: null });
		expect((await lines('people')).slice(1)).toEqual([
			'.....5920 Pensions',
			'.....5910 Bonuses',
			'.....5000 Wages'
		]);
	});
	it('counts the other way when its type is another', async () => {
		await change('6600', { type: 'revenue' });
		// Income now: what the ledger has as a debit is less of it.
		expect(await total('selling')).toBe(600);
		expect(await total('profit')).toBe(1800);
	});
	it.each([
		['under itself', 'profit', { parent: 'people' }, /cannot lie under itself/],
		['under what holds figures', '6600', { parent: '5000' }, /cannot become a heading/],
		['under what is not there', '6600', { parent: 'nowhere' }, /nowhere/],
		['before what lies elsewhere', '6600', { before: '5000' }, /does not lie where/],
		['among statistics', '6600', { parent: 'statistics' }, /do not add up/],
		['that is not there', 'nowhere', { name: 'A' }, /nowhere/]
	])('cannot go %s', async (_name, code, what, message) => {
		const before = await same();
		await expect(change(code, what)).rejects.toThrow(message);
		expect(await same()).toEqual(before);
	});
	it('stays where it is as long as a locked scenario has figures there', async () => {
		await db('scenario').where({ code: 'fy26-budget' }).update({ locked: 1 });
		const before = await same();
		await expect(change('6600', { parent: 'running' })).rejects.toThrow(
			/would change “.*” in .*FY26 Budget.*, which is locked/
		);
		await expect(change('6600', { parent: 'running', dry: true })).rejects.toThrow(/locked/);
		expect(await same()).toEqual(before);
		// Another name changes no figure.
		await change('6600', { name: 'Publicity' });
	});
});

describe('cells of many accounts', () => {
	type Typed = [account: string, column: string, before: string | null, value: string | null];
	const save = (cells: Typed[], more: object = {}) =>
		saveAccountCells(
			asAda(),
			check(
				{
					cells: cells.map(([account, column, before, value]) => ({ account, column, before, value })),
					...more
				},
				AccountCells
			)
		);
	it('are saved as one, each account once in the journal, and loaded as they were saved', async () => {
		const cells: Typed[] = [
			['5000', 'name', 'Wages', 'Salaries'],
			['5000', 'cashFlow', null, 'none'],
			['6000', 'format', 'money', 'price'],
			['1020', 'name', 'Bank', 'House bank']
		];
		expect(await save(cells)).toEqual({ saved: 4, moved: [] });
		const chart = new Map((await readChartOf(asAda())).map((a) => [a.code, a]));
		expect(chart.get('5000')).toMatchObject({
			name: 'Salaries',
			cashFlow: 'none',
			flow: 'none',
			type: 'expense'
		});
		expect([chart.get('6000')!.format, chart.get('1020')!.name]).toEqual(['price', 'House bank']);
		const noted = await db('journal').whereIn('subject', ['account/5000', 'account/6000', 'account/1020']);
		expect(noted).toHaveLength(3);
		expect(new Set(noted.map((n) => n.batch)).size).toBe(1);
		await same();
		// Blank is as its heading again.
		await save([['5000', 'cashFlow', 'none', null]]);
		expect((await readChartOf(asAda())).find((a) => a.code === '5000')!.flow).toBe('operating');
	});
	it('say what figures would move, account by account, before they do', async () => {
		const cells: Typed[] = [
			['6600', 'type', 'expense', 'revenue'],
			['5000', 'type', 'expense', 'revenue'],
			['6000', 'name', 'Office rent', 'Rent']
		];
		const before = await same();
		const { moved } = await save(cells, { dry: true });
		expect(moved).toEqual(
			expect.arrayContaining([
				{ account: '6600', scenario: 'Actuals', currency: 'CHF', amount: 600 },
				{ account: '5000', scenario: 'FY26 Budget', currency: 'CHF', amount: 8400 }
			])
		);
		expect(moved).toHaveLength(4);
		expect(await same()).toEqual(before);
		expect((await save(cells)).moved).toEqual(moved);
		expect(await total('profit')).toBe(1800);
	});
	it('are refused as a whole where somebody else has changed one', async () => {
		await change('6000', { name: 'Rent' });
		const before = await same();
		await expect(
			save([
				['5000', 'name', 'Wages', 'Salaries'],
				['6000', 'name', 'Office rent', 'Rooms']
			])
		).rejects.toMatchObject({
			status: 409,
			data: [{ cell: { account: '6000', column: 'name', value: 'Rooms' }, theirs: 'Rent' }]
		});
		expect(await same()).toEqual(before);
	});
	it.each<[string, Typed, object]>([
		['without a name', ['6000', 'name', 'Office rent', null], { status: 422, faults: [{ column: 'name' }] }],
		[
			'of no type there is',
			['6000', 'type', 'expense', 'spending'],
			{ status: 422, faults: [{ column: 'type' }] }
		],
		['that do not add up', ['6000', 'type', 'expense', 'statistical'], { status: 422 }],
		['that are not there', ['nowhere', 'name', 'A', 'B'], { status: 404 }]
	])('are refused as a whole where there is one %s', async (_name, wrong, refusal) => {
		const before = await same();
		await expect(save([['5000', 'name', 'Wages', 'Salaries'], wrong])).rejects.toMatchObject(refusal);
		expect(await same()).toEqual(before);
	});
	it('stay where they would change a locked scenario', async () => {
		await db('scenario').where({ code: 'fy26-budget' }).update({ locked: 1 });
		const before = await same();
		await expect(save([['6600', 'type', 'expense', 'revenue']])).rejects.toThrow(/which is locked/);
		expect(await same()).toEqual(before);
	});
});

describe('an account that is taken out', () => {
	it('goes when it holds nothing', async () => {
		await add('people', '5910 Bonuses');
		await attach(db, 'accounts/5910/lind/2026-01');
		await expect(removeAccount(asAda(), '5910')).rejects.toThrow(/has notes, items or attachments/);
		// One of an account with a code like it is not its own.
		await db('attachment').delete();
		await attach(db, 'accounts/59105/lind/2026-01');
		await removeAccount(asAda(), '5910');
		await db('attachment').delete();
		expect(await lines('people')).toEqual(['....people People', '.....5000 Wages']);
		await same();
	});
	it('stays while anything hangs on it', async () => {
		await expect(removeAccount(asAda(), '5000')).rejects.toThrow(/“Wages” holds 1 ledger account/);
		await mapAccounts(asAda(), { ledgers: ['5000'], account: '6000' });
		await expect(removeAccount(asAda(), '5000')).rejects.toThrow(/planned by a basis/);
		await expect(removeAccount(asAda(), 'people')).rejects.toThrow(/accounts under “People”/);
		await expect(removeAccount(asAda(), 'nowhere')).rejects.toThrow(/nowhere/);
		await db('basis').delete();
		await expect(removeAccount(asAda(), '5000')).rejects.toThrow(/all that “People” holds/);
	});
});

it('the chart is changed by analysts alone', async () => {
	const viewer = { db, user: { ...user, role: 'viewer' as const } };
	for (const asked of [
		readChartOf(viewer),
		addAccounts(viewer, check({ parent: 'people', outline: 'A' }, NewAccounts)),
		changeAccount(viewer, '5000', check({ name: 'A' }, AccountChange)),
		removeAccount(viewer, '5000')
	])
		await expect(asked).rejects.toMatchObject({ status: 403 });
});
