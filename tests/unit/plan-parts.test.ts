/** What a plan's totals are made of, and what they would be with cells that are not saved yet. */
import fc from 'fast-check';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { readDepartmentPlan, saveBasis } from '../../src/lib/server/accounts/department-plan';
import { previewPlan, readParts, readUnder } from '../../src/lib/server/accounts/plan-parts';
import { setLock } from '../../src/lib/server/scenarios/close';
import { accountCell, DEMO, loaded, refusedIn, userOf, typeInPlan } from '../support/company';

const APR27 = 2027 * 12 + 3;
const WINDOW = { scenario: 'fy28-budget', from: APR27, to: APR27 + 11 };
let db: Knex;
let maren: User;
let tom: User;
beforeEach(async () => {
	db = await loaded(DEMO);
	[maren, tom] = await Promise.all([userOf(db, 'maren'), userOf(db, 'tom')]);
});
afterEach(() => db.destroy());

const planOfDepartment = async (department: string) =>
	(await readDepartmentPlan({ db, user: maren }, WINDOW.scenario, department, WINDOW.from, WINDOW.to)).rows;
const typedAt = async (account: string, department: string, period: number) =>
	(await readUnder({ db, user: maren }, { ...WINDOW, department, account }))[0].typed[period - APR27];

describe('balances in a plan', () => {
	it('are those that schedules move, where a department has some, without totals of some of them', async () => {
		const isBalance = ({ type }: { type: string }) => type === 'asset' || type === 'liability';
		const own = (await planOfDepartment('design-office')).filter(isBalance);
		expect(own.map((r) => r.account).join(' ')).toBe('net-assets assets 1300 1430 1490 liabilities 2010');
		for (const { leaf, cells, total, open } of own) {
			expect(cells.some((cell) => cell !== null)).toBe(leaf);
			expect(total !== null).toBe(leaf);
			expect(open).toBe(false);
		}
		expect((await planOfDepartment('dealer-sales')).some(isBalance)).toBe(false);
	});
	it('are read for departments too, but for those of which plans say nothing', async () => {
		const { rows } = await readParts({ db, user: maren }, WINDOW, 'kelpwick', ['1300']);
		expect(new Set(rows.map((r) => r.account))).toEqual(new Set(['1300']));
		const cash = readParts({ db, user: maren }, WINDOW, 'kelpwick', ['1000']);
		expect((await refusedIn(db, cash)).message).toBe('“Cash” is a balance and is not planned.');
	});
});

describe('the parts of a plan', () => {
	it('sum to the totals they stand under, level by level', async () => {
		const whole = await planOfDepartment('kelpwick');
		const { rows } = await readParts({ db, user: maren }, WINDOW, 'kelpwick', null);
		const departments = [...new Set(rows.map((r) => r.department))];
		expect(departments.length).toBeGreaterThan(3);
		for (const total of whole.filter((r) => r.type !== 'statistical')) {
			const parts = rows.filter((r) => r.account === total.account);
			expect(parts).toHaveLength(departments.length);
			total.cells.forEach((cell, m) =>
				expect(parts.reduce((sum, r) => sum + ((r.cells[m] as number | null) ?? 0), 0)).toBeCloseTo(
					(cell as number | null) ?? 0,
					4
				)
			);
		}
	});
	it('are read for some accounts alone, and say who may plan them', async () => {
		const { rows, rights } = await readParts({ db, user: maren }, WINDOW, 'sales', ['6240', 'selling']);
		expect(rows.map((r) => `${r.account}@${r.department}`)).toEqual([
			'6240@dealer-sales',
			'selling@dealer-sales',
			'6240@direct-web',
			'selling@direct-web'
		]);
		expect(rows[0]).toEqual((await planOfDepartment('dealer-sales')).find((r) => r.account === '6240'));
		expect(rights['dealer-sales']).toMatchObject({ editable: true });
		expect((await readParts({ db, user: maren }, WINDOW, 'dealer-sales', null)).rows).toEqual([]);
	});
	it('are refused for unknown accounts, balances, and departments of others', async () => {
		const refused = (action: Promise<unknown>) => refusedIn(db, action);
		expect((await refused(readParts({ db, user: maren }, WINDOW, 'sales', ['nope']))).status).toBe(404);
		expect((await refused(readParts({ db, user: maren }, WINDOW, 'sales', ['1000']))).message).toMatch(
			/is a balance/
		);
		expect((await refused(readParts({ db, user: tom }, WINDOW, 'kelpwick', null))).status).toBe(403);
		expect(
			(await refused(previewPlan({ db, user: tom }, WINDOW, [], [{ department: 'rigging', accounts: null }])))
				.status
		).toBe(403);
		expect(
			(
				await refused(
					previewPlan(
						{ db, user: tom },
						WINDOW,
						[accountCell({ account: '6240', department: 'rigging', period: APR27, value: 1 })],
						[{ department: 'dealer-sales', accounts: null }]
					)
				)
			).status
		).toBe(403);
	});
	it('are open to spread into where the department may be planned and no driver model posts', async () => {
		const under = await readUnder(
			{ db, user: maren },
			{ ...WINDOW, department: 'sales', account: 'operating' }
		);
		const open = (account: string) => under.filter((u) => u.account === account).map((u) => u.open);
		expect(open('6240')).toEqual([true, true]);
		expect(open('4010')).toContain(false);
		const canBeTyped = async () =>
			(await readParts({ db, user: maren }, WINDOW, 'sales', ['6240', '4010'])).rows.map((r) => r.open);
		expect(await canBeTyped()).toEqual([true, false, true, false]);
		await setLock({ db, user: maren }, WINDOW.scenario, true, 'done');
		expect(await canBeTyped()).toEqual([false, false, false, false]);
		expect(
			(await readUnder({ db, user: maren }, { ...WINDOW, department: 'sales', account: '6240' })).some(
				(u) => u.open
			)
		).toBe(false);
	});
});

describe('a plan as it would be', () => {
	const shown = ['kelpwick', 'sales', 'dealer-sales'].map((department) => ({ department, accounts: null }));
	it('with cells typed is what it is once they are saved, to the bit, and the plan stays as it was', async () => {
		await saveBasis({ db, user: maren }, WINDOW.scenario, 'dealer-sales', '6220', {
			kind: 'percent-of',
			account: '6240',
			percent: 0.37
		});
		const cell = fc.record({
			account: fc.constantFrom('6240', '6220', '6250', '6210', '6300', '4000'),
			department: fc.constantFrom('dealer-sales', 'direct-web'),
			period: fc.integer({ min: APR27, max: APR27 + 11 }),
			value: fc.option(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { nil: null })
		});
		const key = (e: { account: string; department: string; period: number }) =>
			`${e.account}/${e.department}/${e.period}`;
		const cells = fc.uniqueArray(cell, { minLength: 1, maxLength: 12, selector: key });
		const [edits] = fc.sample(cells, { numRuns: 1 });
		const before = await Promise.all(shown.map((s) => planOfDepartment(s.department)));
		for (const list of fc.sample(cells, 8))
			await previewPlan({ db, user: maren }, WINDOW, list.map(accountCell), shown);
		expect(await Promise.all(shown.map((s) => planOfDepartment(s.department)))).toEqual(before);

		const changed = await previewPlan({ db, user: maren }, WINDOW, edits.map(accountCell), shown);
		await typeInPlan(
			{ db, user: maren },
			WINDOW.scenario,
			'dealer-sales',
			await Promise.all(
				edits.map(async (e) => ({ ...e, before: await typedAt(e.account, e.department, e.period) }))
			)
		);
		const after = await Promise.all(shown.map((s) => planOfDepartment(s.department)));
		for (const [i, { department }] of shown.entries())
			for (const [r, row] of after[i].entries()) {
				const told = changed.find((c) => c.department === department && c.account === row.account);
				expect(told ?? before[i][r]).toEqual(row);
			}
	});
	it('shows what a basis gives once what is typed over it is taken away', async () => {
		const [from] = (await planOfDepartment('dealer-sales')).filter((r) => r.account === '6240');
		const edit = { account: '6240', department: 'dealer-sales', period: APR27 };
		await typeInPlan({ db, user: maren }, WINDOW.scenario, 'dealer-sales', [
			{ ...edit, before: from.typed![0], value: 123_456 }
		]);
		const rows = await previewPlan(
			{ db, user: maren },
			WINDOW,
			[accountCell({ ...edit, value: null })],
			[{ department: 'dealer-sales', accounts: ['6240'] }]
		);
		expect(rows[0].cells[0]).not.toBe(123_456);
		expect(rows[0].typed![0]).toBeNull();
		expect(rows[0].total).toBe(rows[0].basisTotal);
	});
	it('tells a row whose basis alone would give another figure', async () => {
		await saveBasis({ db, user: maren }, WINDOW.scenario, 'dealer-sales', '6220', {
			kind: 'percent-of',
			account: '6240',
			percent: 0.37
		});
		const months = Array.from({ length: 12 }, (_, i) => APR27 + i);
		await typeInPlan(
			{ db, user: maren },
			WINDOW.scenario,
			'dealer-sales',
			await Promise.all(
				months.map(async (period) => ({
					account: '6220',
					department: 'dealer-sales',
					period,
					before: await typedAt('6220', 'dealer-sales', period),
					value: 5
				}))
			)
		);
		const edits = [{ account: '6240', department: 'dealer-sales', period: APR27, value: 1_000_000 }];
		const [row] = await previewPlan({ db, user: maren }, WINDOW, edits.map(accountCell), [
			{ department: 'dealer-sales', accounts: ['6220'] }
		]);
		expect(row.total).toBe(60);
		expect(row.basisTotal).toBeGreaterThan(370_000);
	});
	it('leaves closed months alone', async () => {
		const OCT26 = 2026 * 12 + 9;
		const window = { scenario: 'fy27-forecast-6-6', from: OCT26 - 2, to: OCT26 + 2 };
		const all = [{ department: 'dealer-sales', accounts: null }];
		const at = (period: number) => [
			accountCell({ account: '6240', department: 'dealer-sales', period, value: 7 })
		];
		expect(await previewPlan({ db, user: maren }, window, at(OCT26 - 1), all)).toEqual([]);
		expect(await previewPlan({ db, user: maren }, window, at(OCT26), all)).not.toEqual([]);
	});
	it('says nothing of cells that cannot be typed', async () => {
		const nowhere = [
			{ account: 'selling', department: 'dealer-sales', period: APR27, value: 1 },
			{ account: '6240', department: 'sales', period: APR27, value: 1 },
			{ account: '6240', department: 'dealer-sales', period: APR27 + 400, value: 1 },
			{ account: '6240', department: 'dealer-sales', period: 12, value: 1 },
			{ account: '1000', department: 'dealer-sales', period: APR27, value: 1 }
		];
		expect(await previewPlan({ db, user: maren }, WINDOW, nowhere.map(accountCell), shown)).toEqual([]);
	});
});

describe('cells of several departments', () => {
	const edits = [
		{ account: '6240', department: 'dealer-sales', period: APR27, before: null, value: 10 },
		{ account: '6240', department: 'direct-web', period: APR27, before: 999, value: 20 }
	];
	it('are saved together or not at all, and all that others changed are told', async () => {
		const error = await refusedIn(
			db,
			typeInPlan({ db, user: maren }, WINDOW.scenario, 'dealer-sales', edits)
		);
		expect(error.status).toBe(409);
		expect(await typedAt('6240', 'dealer-sales', APR27)).toBeNull();
		const both = edits.map((e) => ({ ...e, before: 999 }));
		const told = await refusedIn(db, typeInPlan({ db, user: maren }, WINDOW.scenario, 'dealer-sales', both));
		expect(told.data).toHaveLength(2);
		expect(
			await typeInPlan(
				{ db, user: maren },
				WINDOW.scenario,
				'dealer-sales',
				edits.map((e) => ({ ...e, before: null }))
			)
		).toBe(2);
		expect(await typedAt('6240', 'direct-web', APR27)).toBe(20);
	});
	it('are refused as a whole where one of them is not the user’s', async () => {
		const error = await refusedIn(
			db,
			typeInPlan({ db, user: tom }, WINDOW.scenario, 'dealer-sales', [
				{ ...edits[0] },
				{ ...edits[1], department: 'rigging', before: null }
			])
		);
		expect(error.status).toBe(403);
		expect(await typedAt('6240', 'dealer-sales', APR27)).toBeNull();
	});
});
