/** Planning, collecting and closing on the demo, below the interface. */
import { readFileSync } from 'node:fs';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { closeMonth, proposeClose, reopenMonth, setLock } from '../../src/lib/server/scenarios/close';
import { readDepartmentPlan, saveBasis } from '../../src/lib/server/accounts/department-plan';
import { previewFeed, runFeed } from '../../src/lib/server/ledger/feed';
import { readModel, saveFormula } from '../../src/lib/server/models/models';
import { readCompany, readStored, writeCompany } from '../../src/lib/server/company/subjects';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import { listScenarios } from '../../src/lib/server/scenarios/scenarios';
import { listRounds, moveSubmission, openRound } from '../../src/lib/server/rounds/submissions';
import { openFigure } from '../../src/lib/server/reports/traces';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import {
	contentOf,
	DEMO,
	headOf,
	loaded,
	rowsUnder,
	totalOf,
	refusedIn,
	userOf,
	typeInModel,
	typeInPlan
} from '../support/company';

const OCT26 = 2026 * 12 + 9;
const APR27 = 2027 * 12 + 3;
const FORECAST = 'fy27-forecast-6-6';
let db: Knex;
let maren: User;
let tom: User;
let oliver: User;

beforeEach(async () => {
	db = await loaded(DEMO);
	[maren, tom, oliver] = await Promise.all([userOf(db, 'maren'), userOf(db, 'tom'), userOf(db, 'oliver')]);
});
afterEach(() => db.destroy());

const row = async (scenario: string, department: string, account: string, from = APR27, to = from + 11) =>
	(await readDepartmentPlan({ db, user: maren }, scenario, department, from, to)).rows.find(
		(r) => r.account === account
	)!;

const refused = (action: Promise<unknown>) => refusedIn(db, action);
async function loadOctober() {
	const content = readFileSync('demo/inbox/ledger-2026-10.csv', 'utf8');
	const map = { '620040': '6200' };
	const { options } = await previewFeed({ db, user: maren }, 'o.csv', content, null, map);
	await runFeed({ db, user: maren }, 'o.csv', content, options, OCT26, map);
}

describe('typing into a department’s plan', () => {
	const edit = (value: number | null, before: number | null = null, period = APR27, account = '6240') => [
		{ account, period, before, value }
	];

	it('saves, counts, and is in History with who, before and after', async () => {
		expect(
			await typeInPlan({ db, user: tom }, 'fy28-budget', 'dealer-sales', [
				...edit(2500),
				...edit(2600, null, APR27 + 1)
			])
		).toBe(2);
		expect((await row('fy28-budget', 'dealer-sales', '6240')).cells.slice(0, 2)).toEqual([2500, 2600]);
		const figure = await openFigure({ db, user: maren }, 'fy28-budget', {
			kind: 'account',
			account: '6240',
			department: 'dealer-sales',
			from: APR27,
			to: APR27
		});
		expect(figure.history).toMatchObject([{ name: 'Tom Aldous', before: '', after: '2500' }]);
		expect(figure.trace.explanations[0]).toMatchObject({ kind: 'typed', basis: { kind: 'last-year' } });
	});
	it('takes an override away and shows the basis again', async () => {
		const basis = (await row('fy28-budget', 'dealer-sales', '6240')).cells[0];
		await typeInPlan({ db, user: tom }, 'fy28-budget', 'dealer-sales', edit(1));
		await typeInPlan({ db, user: tom }, 'fy28-budget', 'dealer-sales', edit(null, 1));
		expect((await row('fy28-budget', 'dealer-sales', '6240')).cells[0]).toBe(basis);
	});
	it('tells the second of two, cell by cell, and saves nothing of theirs', async () => {
		await typeInPlan({ db, user: tom }, 'fy28-budget', 'dealer-sales', edit(100));
		const r = await refused(
			typeInPlan({ db, user: maren }, 'fy28-budget', 'dealer-sales', [
				...edit(200),
				...edit(5, null, APR27 + 3)
			])
		);
		expect(r.status).toBe(409);
		expect(r.data).toMatchObject([{ edit: { value: 200 }, theirs: 100, user: 'Tom Aldous' }]);
		// Knowing what stands there, she may.
		expect(await typeInPlan({ db, user: maren }, 'fy28-budget', 'dealer-sales', edit(200, 100))).toBe(1);
	});
	it('is refused in closed months, totals, balances, locked scenarios, other departments', async () => {
		const in28 = (
			edits: Parameters<typeof typeInPlan>[3],
			user = maren,
			scenario = 'fy28-budget',
			department = 'dealer-sales'
		) => refused(typeInPlan({ db, user }, scenario, department, edits));
		expect((await in28(edit(1, null, OCT26 - 1), maren, FORECAST)).message).toMatch(
			/September 2026 is closed/
		);
		expect((await in28(edit(1, null, APR27 + 12))).message).toMatch(/beyond the scenario’s last month/);
		expect((await in28(edit(1, null, APR27, 'revenue'))).message).toMatch(/is a total/);
		expect((await in28(edit(1, null, APR27, '1000'))).message).toMatch(/Balances are not typed/);
		expect((await in28(edit(1, null, OCT26), maren, 'fy27-budget')).message).toMatch(/is locked/);
		expect((await in28(edit(1), maren, 'actuals')).message).toMatch(/come from the ledger/);
		expect((await in28(edit(1), tom, 'fy28-budget', 'hull-shop')).status).toBe(403);
		expect((await in28(edit(1), maren, 'fy28-budget', 'sales')).message).toMatch(/several departments/);
		expect((await in28(edit(1), tom, FORECAST)).message).toMatch(/No round is open/);
		expect((await in28(edit(1), oliver)).message).toMatch(/does not plan/);
	});
	it('turns a returned plan into a draft', async () => {
		await typeInPlan({ db, user: tom }, 'fy28-budget', 'dealer-sales', edit(1));
		expect(await db('submission').where({ department: 'dealer-sales' }).first()).toMatchObject({
			state: 'drafting'
		});
	});
});

describe('a basis', () => {
	const save = (basis: Parameters<typeof saveBasis>[4], account = '6240') =>
		saveBasis({ db, user: tom }, 'fy28-budget', 'dealer-sales', account, basis);
	it('gives last year changed by a percentage', async () => {
		await save({ kind: 'last-year', percent: 0.1 });
		const { cells, lastYear, total } = await row('fy28-budget', 'dealer-sales', '6240');
		expect(total).toBeCloseTo((lastYear as number) * 1.1, 6);
		expect(cells.every((c) => typeof c === 'number' && c > 0)).toBe(true);
	});
	it('gives a share of another account', async () => {
		await save({ kind: 'percent-of', percent: 0.01, account: '4010' });
		const kayaks = await row('fy28-budget', 'dealer-sales', '4010');
		expect((await row('fy28-budget', 'dealer-sales', '6240')).total).toBeCloseTo(
			(kayaks.total as number) * 0.01,
			6
		);
	});
	it('gives the average of the months before the plan', async () => {
		await save({ kind: 'run-rate', months: 6 });
		const before = await row('fy28-budget', 'dealer-sales', '6240', APR27 - 6, APR27 - 1);
		expect((await row('fy28-budget', 'dealer-sales', '6240')).cells[7]).toBeCloseTo(
			(before.total as number) / 6,
			8
		);
	});
	it('gives a driver times a rate, which only those who see driver models may choose', async () => {
		const basis = { kind: 'driver', driver: 'dealer_visits.visits', rate: 12.5 } as const;
		expect((await refused(save(basis))).status).toBe(403);
		const by = (b: Parameters<typeof saveBasis>[4]) =>
			saveBasis({ db, user: maren }, 'fy28-budget', 'dealer-sales', '6240', b);
		expect((await refused(by({ ...basis, driver: 'dealer_visits.gone' }))).message).toMatch(/is no line/);
		// A share cannot be summed over regions.
		expect((await refused(by({ ...basis, driver: 'dealer_visits.close_rate' }))).status).toBe(422);
		await by(basis);
		const model = await readModel(
			{ db, user: maren },
			{
				scenario: 'fy28-budget',
				model: 'dealer_visits',
				from: APR27,
				to: APR27 + 11,
				open: [],
				where: {}
			}
		);
		const visits = headOf(model, 'visits');
		const planned = await row('fy28-budget', 'dealer-sales', '6240');
		planned.cells.forEach((c, i) => expect(c).toBeCloseTo((visits.cells[i] as number) * 12.5, 8));
		const ref = {
			kind: 'account',
			account: '6240',
			department: 'dealer-sales',
			from: APR27,
			to: APR27
		} as const;
		const told = (await openFigure({ db, user: maren }, 'fy28-budget', ref)).trace.explanations[0];
		expect(told).toMatchObject({ kind: 'basis', operands: [{ name: 'Dealer visits: Visits' }] });
		// What it is made of is there for the contributor too, but leads nowhere he may not go.
		const his = (await openFigure({ db, user: tom }, 'fy28-budget', ref)).trace.explanations[0];
		expect(his.kind === 'basis' && his.operands[0].ref).toBeNull();
		const stored = readCompany(writeCompany(await readStored(db)));
		expect(stored.scenarios.find((x) => x.scenario.code === 'fy28-budget')!.bases).toContainEqual({
			account: '6240',
			department: 'dealer-sales',
			basis
		});
	});
	it('is refused when it closes a circle, and where a driver model posts', async () => {
		await save({ kind: 'percent-of', percent: 0.5, account: '6250' }, '6240').catch(() => undefined);
		const circle = await refused(
			(async () => {
				await saveBasis({ db, user: maren }, 'fy28-budget', 'dealer-sales', '6210', {
					kind: 'percent-of',
					percent: 1,
					account: '6210'
				});
			})()
		);
		expect(circle.message).toMatch(/account 6210 → account 6210/);
		expect((await refused(save({ kind: 'typed' }, '4010'))).message).toMatch(
			/comes from the driver model boat_sales/
		);
	});
});

describe('driver models', () => {
	const cell = { line: 'price_rise', row: '', period: OCT26 + 1 };
	it('carry an assumption into every account that rests on it', async () => {
		const before = await row(FORECAST, 'kelpwick', '4010', OCT26, OCT26 + 5);
		await typeInModel({ db, user: maren }, FORECAST, 'assumptions', [{ ...cell, before: 0, value: 0.1 }]);
		const after = await row(FORECAST, 'kelpwick', '4010', OCT26, OCT26 + 5);
		expect(after.cells[0]).toBe(before.cells[0]);
		for (const i of [1, 2, 3, 4, 5]) expect(after.cells[i]).toBeCloseTo((before.cells[i] as number) * 1.1, 6);
		// The locked budget is untouched, and so is FY28, which has assumptions of its own.
		expect((await row('fy28-budget', 'kelpwick', '4010')).total).toBeGreaterThan(0);
	});
	it('post exactly what their rows add up to', async () => {
		const view = await readModel(
			{ db, user: maren },
			{
				scenario: 'fy28-budget',
				model: 'boat_sales',
				from: APR27,
				to: APR27 + 11,
				open: ['revenue'],
				where: {}
			}
		);
		const revenue = headOf(view, 'revenue');
		const posted = await Promise.all(
			['4000', '4010', '4020', '4030'].map((a) => row('fy28-budget', 'kelpwick', a))
		);
		const sum = posted.reduce((s, r) => s + (r.total as number), 0);
		expect(totalOf(revenue)).toBeCloseTo(sum, 4);
		const each = rowsUnder(view, 'revenue');
		expect(each.reduce((s, r) => s + (totalOf(r) as number), 0)).toBeCloseTo(sum, 4);
		// A year's price is revenue by units, not a mean of months.
		const [units, price] = [headOf(view, 'units'), headOf(view, 'price')];
		expect(totalOf(price) as number).toBeCloseTo(
			(totalOf(revenue) as number) / (totalOf(units) as number),
			6
		);
	});
	it('filter by any member of the trees', async () => {
		const view = await readModel(
			{ db, user: maren },
			{
				scenario: 'fy28-budget',
				model: 'boat_sales',
				from: APR27,
				to: APR27,
				open: ['units'],
				where: { product: 'kayaks', channel: 'dealer' }
			}
		);
		const rows = rowsUnder(view, 'units');
		expect(rows).toHaveLength(16);
		expect(rows.every((r) => r.label.includes('Dealer'))).toBe(true);
		expect(headOf(view, 'units').cells[0]).toBe(rows.reduce((s, r) => s + (r.cells[0] as number), 0));
	});
	it('change a formula in one scenario and leave the others', async () => {
		const budget = (await row('fy27-budget', 'kelpwick', 'revenue', OCT26, OCT26)).total;
		const fy28 = (await row('fy28-budget', 'kelpwick', '4010')).total as number;
		await saveFormula(
			{ db, user: maren },
			{
				scenario: FORECAST,
				model: 'boat_sales',
				line: 'revenue',
				formula: 'units * price * 2',
				also: []
			}
		);
		expect((await row('fy27-budget', 'kelpwick', 'revenue', OCT26, OCT26)).total).toBe(budget);
		expect((await row('fy28-budget', 'kelpwick', '4010')).total).toBeCloseTo(fy28, 6);
		await saveFormula(
			{ db, user: maren },
			{
				scenario: 'fy28-budget',
				model: 'boat_sales',
				line: 'revenue',
				formula: 'units * price * 2',
				also: []
			}
		);
		expect((await row('fy28-budget', 'kelpwick', '4010')).total).toBeCloseTo(fy28 * 2, 4);
	});
	it('refuse what is wrong, with place or path, and keep what was', async () => {
		const change = (formula: string, scenario = FORECAST) =>
			refused(
				saveFormula(
					{ db, user: maren },
					{ scenario, model: 'boat_sales', line: 'revenue', formula, also: [] }
				)
			);
		expect((await change('units * ')).faults[0]).toMatchObject({
			message: expect.stringMatching(/ends too early/),
			span: { from: 6 }
		});
		expect((await change('units * pryce')).message).toMatch(/no line “pryce”/);
		expect((await change('units * price + margin')).message).toMatch(
			/boat_sales\.revenue → boat_sales\.margin → boat_sales\.revenue|margin → boat_sales\.revenue/
		);
		expect((await change('units', 'fy27-budget')).message).toMatch(/is locked/);
		expect(
			(
				await refused(
					typeInModel({ db, user: maren }, FORECAST, 'assumptions', [
						{ ...cell, line: 'price_index', before: null, value: 2 }
					])
				)
			).message
		).toMatch(/is calculated/);
		expect(
			(
				await refused(
					typeInModel({ db, user: tom }, FORECAST, 'assumptions', [{ ...cell, before: 0, value: 1 }])
				)
			).status
		).toBe(403);
	});
});

describe('collecting', () => {
	const at = { round: 'fy28-budget', department: 'dealer-sales' };
	const view = async (user: User) =>
		(await listRounds({ db, user }, '2026-11-16'))[0].submissions.find(
			(s) => s.department === at.department
		)!;
	it('locks what is submitted, also for analysts, until it is returned', async () => {
		await moveSubmission({ db, user: tom }, at, 'submit', '', null);
		const r = await refused(
			typeInPlan({ db, user: maren }, 'fy28-budget', 'dealer-sales', [
				{ account: '6240', period: APR27, before: null, value: 1 }
			])
		);
		expect(r.message).toMatch(/has been submitted/);
		await refused(moveSubmission({ db, user: oliver }, at, 'return', '', null));
		await moveSubmission({ db, user: oliver }, at, 'return', 'Please explain.', null);
		expect(
			await typeInPlan({ db, user: tom }, 'fy28-budget', 'dealer-sales', [
				{ account: '6240', period: APR27, before: null, value: 1 }
			])
		).toBe(1);
	});
	it('does not approve what changed underneath', async () => {
		await moveSubmission({ db, user: tom }, at, 'submit', '', null);
		const seen = await view(oliver);
		expect(seen.changed).toEqual([]);
		// A driver changes the department's sales after it was submitted.
		await typeInModel({ db, user: maren }, 'fy28-budget', 'assumptions', [
			{ line: 'price_rise', row: '', period: APR27 + 2, before: 0, value: 0.05 }
		]);
		expect(
			(await refused(moveSubmission({ db, user: oliver }, at, 'approve', '', seen.mark))).message
		).toMatch(/figures have changed since you opened/);
		const now = await view(oliver);
		expect(now.changed.map((c) => c.account)).toEqual(expect.arrayContaining(['4000', '4010']));
		await moveSubmission({ db, user: oliver }, at, 'approve', 'Seen.', now.mark);
		expect((await view(oliver)).state).toBe('approved');
	});
	it('shows each their own, with history', async () => {
		const own = (await listRounds({ db, user: tom }, '2026-11-16'))[0].submissions;
		expect(own.map((s) => s.department)).toEqual(['dealer-sales', 'direct-web']);
		expect((await view(tom)).history.map((h) => h.action)).toEqual(['return', 'submit', 'edit']);
		const late = (await listRounds({ db, user: maren }, '2026-11-16'))[0].submissions.filter(
			(s) => s.overdue
		);
		expect(late.map((s) => s.department)).toEqual(['refit-yard']);
	});
	it('opens a round over open departments alone', async () => {
		const input = {
			name: 'Mid-year',
			scenario: FORECAST,
			due: '2026-12-01',
			instructions: '',
			departments: ['hull-shop', 'rigging']
		};
		await openRound({ db, user: maren }, input);
		expect((await refused(openRound({ db, user: maren }, { ...input, name: 'Again' }))).message).toMatch(
			/already asked in “Mid-year”/
		);
		expect(
			(await refused(openRound({ db, user: maren }, { ...input, departments: ['production'] }))).message
		).toMatch(/no department that takes figures/);
		expect((await refused(openRound({ db, user: tom }, input))).status).toBe(403);
		expect(
			(await refused(openRound({ db, user: maren }, { ...input, scenario: 'fy27-budget' }))).message
		).toMatch(/cannot be planned in/);
	});
});

const close = {
	month: OCT26,
	from: FORECAST,
	name: 'FY27 Forecast 7+5',
	accounts: 'year-ago' as const,
	followers: [] as string[],
	despiteUnmapped: false
};

describe('closing a month', () => {
	it('makes the next forecast: actuals, the rest as before, twelve months ahead', async () => {
		await loadOctober();
		const before = await row(FORECAST, 'kelpwick', 'revenue', OCT26 - 6, OCT26 + 5);
		const proposal = await proposeClose({ db, user: maren });
		expect(proposal).toMatchObject({
			month: OCT26,
			name: 'FY27 Forecast 7+5',
			last: OCT26 + 12,
			unmapped: []
		});
		const code = await closeMonth({ db, user: maren }, close);
		const made = (await listScenarios(db)).find((s) => s.code === code)!;
		expect(made).toMatchObject({
			kind: 'forecast',
			first: OCT26 - 6,
			last: OCT26 + 12,
			actualsThrough: OCT26,
			origin: FORECAST,
			locked: false
		});
		const actual = await row('actuals', 'kelpwick', 'revenue', OCT26 - 6, OCT26);
		const after = await row(code, 'kelpwick', 'revenue', OCT26 - 6, OCT26 + 12);
		expect(after.cells.slice(0, 7)).toEqual(actual.cells);
		// Units and prices go on as they were; what rests on October's actuals may move a little.
		const kayaks = async (s: string) => (await row(s, 'kelpwick', '4010', OCT26 + 1, OCT26 + 11)).cells;
		expect(await kayaks(code)).toEqual(await kayaks(FORECAST));
		expect(after.cells[18]).toBeGreaterThan(0);
		expect(before.cells.slice(0, 6)).toEqual(actual.cells.slice(0, 6));
		// Typed and modelled lines reach the new month: units as a year before, pay as typed a year before.
		const units = await readModel(
			{ db, user: maren },
			{
				scenario: code,
				model: 'boat_sales',
				from: OCT26 + 12,
				to: OCT26 + 12,
				open: [],
				where: {}
			}
		);
		const was = await db('series').where({ scenario: code, block: 'boat_sales', line: 'units' });
		expect(was).toHaveLength(155);
		expect(totalOf(headOf(units, 'units'))).toBeGreaterThan(0);
	});
	it('lets a budget look back through the new forecast when asked, and is saved and loaded so', async () => {
		await loadOctober();
		const freight = async () =>
			(await row('fy28-budget', 'dealer-sales', '5050', APR27 + 6, APR27 + 6)).total as number;
		const before = await freight();
		expect((await proposeClose({ db, user: maren })).followers.map((f) => f.code)).toEqual(['fy28-budget']);
		const code = await closeMonth({ db, user: maren }, { ...close, followers: ['fy28-budget'] });
		// Last year's October is the actual one now, mis-keyed invoice and all.
		const actual = (await row('actuals', 'dealer-sales', '5050', OCT26, OCT26)).total as number;
		expect(await freight()).toBeCloseTo(actual * 1.03, 6);
		expect(await freight()).not.toBeCloseTo(before, 0);
		expect(await db('scenario').where({ code: 'fy28-budget' }).first()).toMatchObject({ follows: code });
		const files = writeCompany(await readStored(db));
		expect(writeCompany(readCompany(files))).toEqual(files);
	});
	it('is refused twice, out of order, unloaded, unmapped, under a taken name', async () => {
		expect((await refused(closeMonth({ db, user: maren }, close))).message).toMatch(
			/Nothing has been loaded for October 2026/
		);
		await loadOctober();
		expect((await refused(closeMonth({ db, user: maren }, { ...close, month: OCT26 - 1 }))).message).toMatch(
			/September 2026 is closed already/
		);
		expect(
			(await refused(closeMonth({ db, user: maren }, { ...close, name: 'FY28 Budget' }))).message
		).toMatch(/named “FY28 Budget” already/);
		expect((await refused(closeMonth({ db, user: tom }, close))).status).toBe(403);
		await db('ledger_account').where({ code: '620040' }).update({ account: null });
		await db('company').increment('revision', 1);
		const r = await refused(closeMonth({ db, user: maren }, close));
		expect(r.message).toMatch(/620040 is not mapped/);
		await closeMonth({ db, user: maren }, { ...close, despiteUnmapped: true });
		expect((await refused(closeMonth({ db, user: maren }, { ...close, name: 'x' }))).message).toMatch(
			/closed already/
		);
	});
	it('can be taken back by reopening the last month, with a reason', async () => {
		await loadOctober();
		await closeMonth({ db, user: maren }, close);
		await refused(reopenMonth({ db, user: maren }, OCT26, ' '));
		await refused(reopenMonth({ db, user: maren }, OCT26 - 1, 'why'));
		await reopenMonth({ db, user: maren }, OCT26, 'A late invoice.');
		await loadOctober();
		expect((await proposeClose({ db, user: maren })).month).toBe(OCT26);
	});
});

describe('scenarios', () => {
	it('are independent of their copy', async () => {
		const code = await copyScenario({ db, user: maren }, FORECAST, 'What if', 'what-if');
		const figure = async (s: string) => (await row(s, 'dealer-sales', '6240', OCT26, OCT26 + 5)).total;
		const before = await figure(FORECAST);
		expect(await figure(code)).toBe(before);
		await typeInPlan({ db, user: maren }, code, 'dealer-sales', [
			{ account: '6240', period: OCT26, before: null, value: 99999 }
		]);
		expect(await figure(FORECAST)).toBe(before);
		expect(await figure(code)).not.toBe(before);
		await refused(copyScenario({ db, user: maren }, FORECAST, 'What if', 'what-if'));
	});
	it('take every basis with them', async () => {
		const driver = { kind: 'driver', driver: 'dealer_visits.visits', rate: 12.5 } as const;
		await saveBasis({ db, user: maren }, FORECAST, 'dealer-sales', '6240', driver);
		const code = await copyScenario({ db, user: maren }, FORECAST, 'What if', 'what-if');
		const bases = async (scenario: string) => {
			const { scenarios } = await readStored(db);
			return scenarios.find((s) => s.scenario.code === scenario)!.bases;
		};
		expect(await bases(code)).toEqual(await bases(FORECAST));
		expect((await row(code, 'dealer-sales', '6240')).cells).toEqual(
			(await row(FORECAST, 'dealer-sales', '6240')).cells
		);
	});
	it('refuse every write once locked, and say why they were unlocked', async () => {
		await setLock({ db, user: maren }, FORECAST, true, '');
		await refused(saveBasis({ db, user: maren }, FORECAST, 'dealer-sales', '6240', { kind: 'typed' }));
		await refused(
			typeInModel({ db, user: maren }, FORECAST, 'assumptions', [
				{ line: 'price_rise', row: '', period: OCT26, before: 0, value: 1 }
			])
		);
		await refused(setLock({ db, user: maren }, FORECAST, false, ''));
		await setLock({ db, user: maren }, FORECAST, false, 'One correction.');
		expect(await db('journal').where({ kind: 'lock' }).orderBy('id', 'desc').first()).toMatchObject({
			why: 'One correction.',
			after: 'false'
		});
	});
});

describe('a locked scenario', () => {
	it('refuses every write, from every door, and nothing of it changes', async () => {
		const locked = 'fy27-budget';
		const doors: [string, () => Promise<unknown>][] = [
			[
				'cells',
				() =>
					typeInPlan({ db, user: maren }, locked, 'rigging', [
						{ account: '5210', period: OCT26, before: null, value: 1 }
					])
			],
			['basis', () => saveBasis({ db, user: maren }, locked, 'rigging', '5210', { kind: 'typed' })],
			[
				'inputs',
				() =>
					typeInModel({ db, user: maren }, locked, 'assumptions', [
						{ line: 'price_rise', row: '', period: OCT26, before: 0, value: 1 }
					])
			],
			[
				'formula',
				() =>
					saveFormula(
						{ db, user: maren },
						{
							scenario: locked,
							model: 'boat_sales',
							line: 'revenue',
							formula: 'units',
							also: []
						}
					)
			],
			[
				'formula from another',
				() =>
					saveFormula(
						{ db, user: maren },
						{
							scenario: FORECAST,
							model: 'boat_sales',
							line: 'revenue',
							formula: 'units',
							also: [locked]
						}
					)
			],
			[
				'round',
				() =>
					openRound(
						{ db, user: maren },
						{
							name: 'x',
							scenario: locked,
							due: '2026-12-01',
							instructions: '',
							departments: ['rigging']
						}
					)
			]
		];
		const before = await contentOf(db);
		for (const [door, action] of doors) await expect(action(), door).rejects.toBeInstanceOf(Refusal);
		expect(await contentOf(db)).toBe(before);
	});
});

describe('what rests on a change', () => {
	it('follows at once, also through the scenario that is followed', async () => {
		const november = APR27 + 7;
		const legal = async (scenario: string, period: number) =>
			(await row(scenario, 'finance-people', '6340', period, period)).total as number;
		const [was, later] = [await legal(FORECAST, november - 12), await legal('fy28-budget', november)];
		expect(later).toBeCloseTo(was * 1.03, 8);
		await typeInPlan({ db, user: maren }, FORECAST, 'finance-people', [
			{ account: '6340', period: november - 12, before: null, value: 10_000 }
		]);
		expect(await legal('fy28-budget', november)).toBeCloseTo(10_300, 8);
		expect(await legal('fy27-budget', november - 12)).not.toBe(10_000);
	});
	it('leaves the locked budget as it was, to the bit, whatever is done elsewhere', async () => {
		const budget = async () =>
			JSON.stringify(
				(await readDepartmentPlan({ db, user: maren }, 'fy27-budget', 'kelpwick', OCT26 - 6, OCT26 + 5)).rows
			);
		const before = await budget();
		await typeInModel({ db, user: maren }, FORECAST, 'assumptions', [
			{ line: 'price_rise', row: '', period: OCT26 + 1, before: 0, value: 0.1 }
		]);
		await saveFormula(
			{ db, user: maren },
			{
				scenario: FORECAST,
				model: 'boat_sales',
				line: 'material',
				formula: 'units * 2',
				also: ['fy28-budget']
			}
		);
		await loadOctober();
		await closeMonth({ db, user: maren }, { ...close, followers: ['fy28-budget'] });
		expect(await budget()).toBe(before);
	});
});

describe('the journal', () => {
	it('knows every kind of change, with who, before and after', async () => {
		await typeInPlan({ db, user: tom }, 'fy28-budget', 'dealer-sales', [
			{ account: '6240', period: APR27, before: null, value: 1 }
		]);
		await saveBasis({ db, user: tom }, 'fy28-budget', 'dealer-sales', '6240', {
			kind: 'run-rate',
			months: 3
		});
		await typeInModel({ db, user: maren }, FORECAST, 'assumptions', [
			{ line: 'price_rise', row: '', period: OCT26, before: 0, value: 0.01 }
		]);
		await saveFormula(
			{ db, user: maren },
			{
				scenario: FORECAST,
				model: 'boat_sales',
				line: 'revenue',
				formula: 'price * units',
				also: []
			}
		);
		await copyScenario({ db, user: maren }, FORECAST, 'Copy', 'what-if');
		await setLock({ db, user: maren }, 'fy27-budget', false, 'A correction.');
		await loadOctober();
		await closeMonth({ db, user: maren }, { ...close, followers: ['fy28-budget'] });
		await reopenMonth({ db, user: maren }, OCT26, 'A late invoice.');
		const entries = (await db('journal').orderBy('id')) as {
			kind: string;
			user: string;
			before: string;
			after: string;
			why: string;
		}[];
		const of = (kind: string) => entries.filter((e) => e.kind === kind);
		expect(new Set(entries.map((e) => e.kind))).toEqual(
			new Set(['plan', 'basis', 'driver', 'formula', 'copy', 'lock', 'map', 'close', 'follow', 'reopen'])
		);
		expect(of('basis')[0]).toMatchObject({
			user: tom.email,
			before: '{"kind":"last-year","percent":0.03}',
			after: '{"kind":"run-rate","months":3}'
		});
		expect(of('formula')[0]).toMatchObject({ before: 'units * price', after: 'price * units' });
		expect(of('driver')[0]).toMatchObject({ before: '0', after: '0.01' });
		expect(of('map')[0]).toMatchObject({ before: '', after: '6200' });
		expect(of('follow')[0]).toMatchObject({ before: FORECAST });
		expect(of('reopen')[0]).toMatchObject({ why: 'A late invoice.' });
		for (const e of entries) expect(e.user).toMatch(/@kelpwick\.example$/);
	});
});
