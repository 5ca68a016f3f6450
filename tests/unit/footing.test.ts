/** What is calculated stays while a company is called or arranged otherwise, and goes as soon as a figure could be another. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { totalsOf } from '../../src/lib/core/statements/totals';
import type { Plan } from '../../src/lib/core/scenario/plan';
import { companyState, touchCompany } from '../../src/lib/server/company/structure';
import { check } from '../../src/lib/server/platform/check';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { openDatabase, serialize } from '../../src/lib/server/platform/db/connect';
import { setLock } from '../../src/lib/server/scenarios/close';
import { changeScenario } from '../../src/lib/server/scenarios/list';
import { planOf, scenarioPackage } from '../../src/lib/server/scenarios/plans';
import { readSchedule } from '../../src/lib/server/schedules/schedules';
import { AccountChange, addAccounts, changeAccount, NewAccounts } from '../../src/lib/server/setup/chart';
import { changeDepartment, DepartmentChange } from '../../src/lib/server/setup/departments';
import { changeModel, designOf } from '../../src/lib/server/models/design';
import { contentOf, DEMO, loaded, userOf } from '../support/company';

const BUDGET = 'fy28-budget';
const RULE = JSON.stringify({
	name: 'Dinghies are not sold on the web',
	on: false,
	effect: 'block',
	lead: { dimension: 'product', under: ['dinghies'], except: [] },
	others: [{ dimension: 'channel', under: ['web'], except: [] }]
});
let db: Knex;
let user: User;
beforeEach(async () => {
	db = await loaded(DEMO);
	user = await userOf(db, 'maren');
	await db('scenario').update({ locked: 0 });
});
afterEach(() => db.destroy());

const account = (code: string, change: object) =>
	changeAccount({ db, user }, code, check(change, AccountChange));
const department = (code: string, change: object) =>
	changeDepartment({ db, user }, code, check(change, DepartmentChange));

/** Totals of every account in every department. */
function figures(plan: Plan): Map<string, number[]> {
	const totals = totalsOf(plan);
	const { accounts, departments } = plan.structure;
	const length = plan.calculation.axis.length;
	return new Map(
		accounts.all.flatMap((a) =>
			departments.all.map((d) => {
				const { values, start } = totals.of(a.code, d.code);
				return [`${a.code}/${d.code}`, [...values.subarray(start, start + length)]] as const;
			})
		)
	);
}
async function madeAnew(): Promise<Map<string, number[]>> {
	const other = await openDatabase(await serialize(db));
	try {
		return figures(await planOf(other, BUDGET));
	} finally {
		await other.destroy();
	}
}

describe('a calculated plan', () => {
	it('keeps its figures under other names, in another order and under other headings', async () => {
		const plan = await planOf(db, BUDGET);
		await account('6220', { name: 'Printing', parent: 'office', before: '6410' });
		await account('office', { name: 'Offices' });
		await department('rigging', { name: 'Rigs' });
		const now = await planOf(db, BUDGET);
		expect(now.calculation).toBe(plan.calculation);
		expect(now.accounts.line('6220')?.label).toBe('Printing');
		expect(now.accounts.rowName('rigging')).toBe('Rigs');
		expect(now.structure.accounts.children('office').map((a) => a.code)).toContain('6220');
		expect(figures(now)).toEqual(await madeAnew());
		// Who has it in hand still has it as it was.
		expect(plan.accounts.line('6220')?.label).toBe('Print and photography');
		expect(figures(plan).get('office/kelpwick')).not.toEqual(figures(now).get('office/kelpwick'));
		// Asked again it is the very same.
		expect(await planOf(db, BUDGET)).toBe(now);
	});
	it('is as it was for others while a change is tried', async () => {
		const plan = await planOf(db, BUDGET);
		const before = figures(plan);
		const { moved } = await account('6220', { parent: 'office', dry: true });
		expect(moved.map((m) => m.scenario)).toContain('FY28 Budget');
		const now = await planOf(db, BUDGET);
		expect(now.structure.accounts.get('6220')?.parent).toBe('selling');
		expect(figures(now)).toEqual(before);
	});
	it('of a locked scenario keeps an account from going elsewhere, and lets its names and order go', async () => {
		await planOf(db, BUDGET);
		await db('scenario').where({ code: BUDGET }).update({ locked: 1 });
		await account('6220', { name: 'Printing', before: '6210' });
		await expect(account('6220', { parent: 'office' })).rejects.toThrow(
			/^This would change “.+” in “FY28 Budget”, which is locked/
		);
	});
	it('is made anew where what accounts are, or departments hold, counts otherwise', async () => {
		const plan = await planOf(db, BUDGET);
		await account('6240', { type: 'revenue' });
		const retyped = await planOf(db, BUDGET);
		expect(retyped.calculation).not.toBe(plan.calculation);
		expect(figures(retyped)).toEqual(await madeAnew());
		await addAccounts({ db, user }, check({ parent: 'office', outline: 'Removals' }, NewAccounts));
		const added = await planOf(db, BUDGET);
		expect(added.calculation).not.toBe(retyped.calculation);
		expect(figures(added)).toEqual(await madeAnew());
	});
	it('refuses what its formulas could not count any more, were it only how a statistic is shown', async () => {
		const { definition, version } = await designOf({ db, user }, BUDGET, 'boat_sales');
		const heads = {
			...definition.lines.find((l) => l.code === 'revenue')!,
			code: 'heads',
			label: 'Heads',
			unit: 'pieces',
			closed: 'keep' as const,
			formula: 'units + account("9010")'
		};
		await changeModel(
			{ db, user },
			{
				scenarios: [BUDGET],
				model: 'boat_sales',
				version,
				definition: { ...definition, lines: [...definition.lines, heads] },
				drop: false
			}
		);
		const before = await contentOf(db);
		await expect(account('9010', { format: 'money' })).rejects.toThrow(
			/could not be calculated any more: .*Nothing was saved/
		);
		expect(await contentOf(db)).toBe(before);
	});
});

describe('what calculations rest on', () => {
	/** Whether it is another once this is stored. */
	async function moves(table: string, where: object, values: object): Promise<boolean> {
		const { footing } = await companyState(db);
		await db.transaction(async (trx) => {
			expect(await trx(table).where(where).update(values)).toBeGreaterThan(0);
			await touchCompany(trx);
		});
		return (await companyState(db)).footing !== footing;
	}
	it.each([
		['account', { code: '6220' }, { name: 'Printing' }],
		['account', { code: '6220' }, { parent: 'office' }],
		['account', { code: '6220' }, { position: 9999 }],
		['account', { code: '6220' }, { format: 'number' }],
		['account', { code: '6220' }, { cash_flow: 'none' }],
		['account', { code: 'office' }, { rollup: 'last' }],
		['department', { code: 'rigging' }, { name: 'Rigs' }],
		['entity', { code: 'ltd' }, { name: 'Boats' }],
		['member', { code: 'dinghies' }, { name: 'Small boats' }],
		['rate_set', { code: 'current' }, { name: 'Rates of today' }],
		['ledger_account', { code: '400010' }, { name: 'Boats' }],
		['company', {}, { name: 'Boats' }]
	])('are no names, order or headings: %s %j %j', async (table, where, values) => {
		expect(await moves(table, where, values)).toBe(false);
	});
	it.each([
		['account', { code: '6220' }, { type: 'revenue' }],
		['account', { code: '6220' }, { rollup: 'average' }],
		['account', { code: '9000' }, { format: 'money' }],
		// It is a total now, and what was one is none.
		['account', { code: '6220' }, { parent: '6210' }],
		['department', { code: 'rigging' }, { parent: 'kelpwick' }],
		['department', { code: 'rigging' }, { entity: 'oy' }],
		['department', { code: 'hull-shop' }, { position: 9999 }],
		['entity', { code: 'ltd' }, { currency: 'CHF' }],
		['member', { code: 'dinghies' }, { attributes: '{}' }],
		['member', { code: 'dinghies' }, { retired: 1 }],
		['rate', { currency: 'EUR', kind: 'average', rate_set: 'current' }, { first: 24291 }],
		['rate_set', { code: 'current' }, { actuals: 0 }],
		['combination_rule', { code: 'dinghies-by-hand' }, { content: RULE }],
		['ledger_account', { code: '400010' }, { account: '4010' }],
		['ledger_month', { period: 24291 }, { period: 24280 }],
		['company', {}, { closed_through: 24319 }]
	])('are what figures are made of: %s %j %j', async (table, where, values) => {
		expect(await moves(table, where, values)).toBe(true);
	});
});

describe('what is said of a scenario', () => {
	it('is that of today, on the very figures that are there', async () => {
		const before = await planOf(db, BUDGET);
		const schedule = () =>
			readSchedule(
				{ db, user },
				{ scenario: BUDGET, schedule: 'staff', from: before.open, to: before.open, department: null }
			);
		const open = await schedule();
		expect(open).toMatchObject({ editable: true, reason: '' });
		await changeScenario({ db, user }, BUDGET, { name: 'FY28, third round', target: 'fy28-targets' });
		await setLock({ db, user }, BUDGET, true, '');
		const after = await planOf(db, BUDGET);
		expect(after.calculation === before.calculation).toBe(true);
		expect(after.scenario).toMatchObject({ name: 'FY28, third round', locked: true });
		expect((await schedule()).reason).toMatch(/“FY28, third round” is locked/);
		const parcel = await scenarioPackage({ db, user }, BUDGET);
		expect(parcel.data.scenario.name).toBe('FY28, third round');
		// Nobody has asked for anything else meanwhile: it is the very same answer.
		expect((await planOf(db, BUDGET)) === after).toBe(true);
	});
	it('has figures made anew where it comes to be longer', async () => {
		const before = await planOf(db, BUDGET);
		const { last } = before.scenario;
		await changeScenario({ db, user }, BUDGET, { last: last + 12 });
		const after = await planOf(db, BUDGET);
		expect(after.calculation === before.calculation).toBe(false);
		expect(after.scenario.last).toBe(last + 12);
	});
});
