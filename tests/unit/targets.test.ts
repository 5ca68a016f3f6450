/** Targets on the demo: made from a budget to the bit, seen beside it, typed over several departments at once. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { isBalance } from '../../src/lib/core/company/sign';
import { ACCOUNTS_BLOCK } from '../../src/lib/core/engine/spec';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { readDepartmentPlan } from '../../src/lib/server/accounts/department-plan';
import { newBatch } from '../../src/lib/server/company/journal';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { shownWith } from '../../src/lib/server/scenarios/rests-on';
import { saveCells } from '../../src/lib/server/changes/save-cells';
import { changeScenario, deleteScenario, scenarioEntries } from '../../src/lib/server/scenarios/list';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import { scenarioModels } from '../../src/lib/server/scenarios/plan-data';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { readTargets } from '../../src/lib/server/accounts/targets';
import { readUnder } from '../../src/lib/server/accounts/plan-parts';
import { DEMO, loaded, userOf } from '../support/company';

const APR27 = 2027 * 12 + 3;
const MAR28 = APR27 + 11;
const BUDGET = 'fy28-budget';
let db: Knex;
let maren: User;
let targets: string;

beforeEach(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
	targets = await copyScenario({ db, user: maren }, BUDGET, 'FY28 targets', 'target');
	await changeScenario({ db, user: maren }, BUDGET, { target: targets });
});
afterEach(() => db.destroy());

const refused = (work: Promise<unknown>): Promise<Refusal> =>
	work.then(
		() => Promise.reject(new Error('It was not refused.')),
		(e: unknown) => (e instanceof Refusal ? e : Promise.reject(e))
	);

describe('targets made from a budget', () => {
	it('hold what every account comes to in every department and month, typed, without driver models', async () => {
		const [plan, set] = [await planOf(db, BUDGET), await planOf(db, targets)];
		expect(await scenarioModels(db, targets)).toEqual([]);
		const { accounts, departmentRows } = plan.structure;
		let compared = 0;
		for (const account of accounts.all.filter((a) => accounts.isLeaf(a.code) && !isBalance(a.type)))
			departmentRows.forEach((d, r) => {
				for (let p = APR27; p <= MAR28; p++) {
					const own = plan.calculation.cell(ACCOUNTS_BLOCK, account.code, r, p);
					if (typeof own !== 'number') continue;
					expect(set.calculation.cell(ACCOUNTS_BLOCK, account.code, r, p)).toBe(own);
					if (p === APR27) expect(set.accounts.origin(account.code, d.code)).toMatchObject({ kind: 'basis' });
					compared++;
				}
			});
		expect(compared).toBeGreaterThan(1000);
	});
	it('stand beside the plan: no gap at first, then what the plan has moved by', async () => {
		const row = async () =>
			(await readDepartmentPlan({ db, user: maren }, BUDGET, 'dealer-sales', APR27, MAR28)).rows.find(
				(r) => r.account === '6240'
			)!;
		const before = await row();
		expect(before.target).toBe(before.total);
		const typed = before.typed![0];
		await db.transaction((trx) =>
			saveCells(
				{ db: trx, user: maren },
				BUDGET,
				[
					{
						block: ACCOUNTS_BLOCK,
						line: '6240',
						row: 'dealer-sales',
						period: APR27,
						before: typed,
						value: (before.cells[0] as number) + 500
					}
				],
				{ kind: 'plan', batch: newBatch() }
			)
		);
		const after = await row();
		expect(after.target).toBe(before.target);
		expect((after.total as number) - (after.target as number)).toBeCloseTo(500, 6);
		const view = await readTargets({ db, user: maren }, BUDGET, APR27, MAR28);
		const { accounts } = (await planOf(db, BUDGET)).structure;
		const line = view.lines.findIndex((l) => l.spreads && accounts.within('6240', l.account));
		const found = view.rows.find((r) => r.department === 'dealer-sales')!.cells[line];
		expect((found.plan as number) - (found.target as number)).toBeCloseTo(500, 4);
	});
	it('add up: a branch is its departments, a result its lines', async () => {
		const { rows, lines } = await readTargets({ db, user: maren }, BUDGET, APR27, MAR28);
		const of = (department: string, line: number) =>
			(rows.find((r) => r.department === department)!.cells[line].target as number | null) ?? 0;
		lines.forEach((_, i) =>
			expect(of('sales', i)).toBeCloseTo(of('dealer-sales', i) + of('direct-web', i), 4)
		);
		const profit = lines.findIndex((l) => l.account === 'profit');
		const sum = lines.reduce(
			(s, l, i) => s + (i === profit ? 0 : (l.type === 'expense' ? -1 : 1) * of('kelpwick', i)),
			0
		);
		expect(of('kelpwick', profit)).toBeCloseTo(sum, 4);
	});
	it('are all saved, or none of them', async () => {
		const read = () =>
			readUnder(
				{ db, user: maren },
				{ scenario: targets, department: 'sales', account: '6240', from: APR27, to: APR27 }
			);
		const under = await read();
		expect(under.map((u) => u.department)).toEqual(['dealer-sales', 'direct-web']);
		const edits = under.map((u, i) => ({
			block: ACCOUNTS_BLOCK,
			line: u.account,
			row: u.department,
			period: APR27,
			before: i === 1 ? 123.45 : u.typed[0],
			value: 1
		}));
		const error = await refused(
			db.transaction((trx) =>
				saveCells({ db: trx, user: maren }, targets, edits, { kind: 'plan', batch: newBatch() })
			)
		);
		expect(error.status).toBe(409);
		expect(await read()).toEqual(under);
	});
});

describe('the scenario that holds targets', () => {
	it('is another one that is there, and is not deleted while it is needed', async () => {
		expect((await refused(changeScenario({ db, user: maren }, BUDGET, { target: BUDGET }))).message).toMatch(
			/another/
		);
		expect(
			(await refused(changeScenario({ db, user: maren }, BUDGET, { target: 'actuals' }))).message
		).toMatch(/another/);
		expect((await refused(changeScenario({ db, user: maren }, BUDGET, { target: 'none' }))).status).toBe(404);
		const entry = (await scenarioEntries({ db, user: maren })).find((s) => s.code === targets)!;
		expect(entry.usedIn).toEqual(['targets of FY28 Budget']);
		expect((await refused(deleteScenario({ db, user: maren }, targets))).message).toMatch(
			/targets of FY28 Budget/
		);
		await changeScenario({ db, user: maren }, BUDGET, { target: null });
		await deleteScenario({ db, user: maren }, targets);
	});
	it('is told of with the scenarios that show it', async () => {
		const shown = await shownWith(db);
		expect(shown.get(BUDGET)).toContain(targets);
		expect(shown.get(targets)).not.toContain(BUDGET);
		for (const [code, with_] of shown) expect(with_).toContain(code);
	});
	it('cannot be typed by those who only answer for a department, without a round', async () => {
		const tom = await userOf(db, 'tom');
		const { rows } = await readTargets({ db, user: tom }, BUDGET, APR27, MAR28);
		expect(rows.map((r) => r.department)).toEqual(['sales', 'dealer-sales', 'direct-web']);
		for (const row of rows)
			expect(row).toMatchObject({
				editable: false,
				reason: expect.stringMatching(/No round is open/) as string
			});
	});
});
