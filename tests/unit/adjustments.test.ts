/** What-if on the demo, below the interface: adjustments are kept, switched, written in and taken back. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { AdjustmentDefinition } from '../../src/lib/core/inputs/schema';
import { adoptAdjustments, adoptedWith, changeAdjustments } from '../../src/lib/server/changes/adjustments';
import { readAdjustmentsOf } from '../../src/lib/server/company/subjects/scenario/adjustments';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { setLock } from '../../src/lib/server/scenarios/close';
import { readDepartmentPlan, saveBasis } from '../../src/lib/server/accounts/department-plan';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { readModel, saveFormula } from '../../src/lib/server/models/models';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { readSchedule } from '../../src/lib/server/schedules/schedules';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import {} from '../../src/lib/server/scenarios/plan-data';
import { contentOf, DEMO, loaded, rowsUnder, userOf, typeInModel, typeInPlan } from '../support/company';

const WHAT_IF = 'dearer-kayaks';
const FORECAST = 'fy27-forecast-6-6';
const OCT26 = 2026 * 12 + 9;
const MAR27 = 2027 * 12 + 2;
let db: Knex;
let maren: User;
beforeEach(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
});
afterEach(() => db.destroy());

/** Every account of every department, month by month. */
async function figures(scenario: string) {
	const all = [];
	for (const { code } of await db('department').orderBy('position')) {
		const { rows } = await readDepartmentPlan({ db, user: maren }, scenario, code, OCT26, OCT26 + 11);
		all.push(rows.map((r) => [r.account, ...r.cells]));
	}
	return all;
}
async function profit(scenario: string): Promise<number> {
	const { rows } = await readDepartmentPlan({ db, user: maren }, scenario, 'kelpwick', OCT26, OCT26 + 11);
	return rows.find((r) => r.account === 'profit')!.total as number;
}
const refusal = (action: Promise<unknown>): Promise<Refusal> =>
	action.then(
		() => Promise.reject(new Error('It was not refused.')),
		(e: unknown) => (e instanceof Refusal ? e : Promise.reject(e))
	);
const rise: AdjustmentDefinition = {
	code: 'rise',
	name: 'Everything dearer',
	on: true,
	steps: [
		{
			operation: 'multiply',
			value: 1.02,
			lines: [{ block: 'boat_sales', line: 'list_price' }],
			where: {},
			from: '2027-01'
		}
	],
	adopted: null
};

describe('adjustments', () => {
	it('change the figures while they are on, each by itself, and nothing else', async () => {
		const base = await profit(FORECAST);
		const all = await profit(WHAT_IF);
		expect(all).toBeGreaterThan(base + 100_000);
		const before = await contentOf(db, ['series', 'basis']);
		for (const code of ['kayak-prices', 'lakes-recover', 'freight-contract'])
			await changeAdjustments({ db, user: maren }, WHAT_IF, { action: 'switch', code, on: false });
		expect(await figures(WHAT_IF)).toEqual(await figures(FORECAST));
		await changeAdjustments({ db, user: maren }, WHAT_IF, {
			action: 'switch',
			code: 'kayak-prices',
			on: true
		});
		const dearer = await profit(WHAT_IF);
		expect(dearer).toBeGreaterThan(base);
		expect(dearer).toBeLessThan(all);
		expect(await contentOf(db, ['series', 'basis'])).toBe(before);
	});
	it('leave what was typed to be seen and typed under them', async () => {
		const view = async () =>
			rowsUnder(
				await readModel(
					{ db, user: maren },
					{
						scenario: WHAT_IF,
						model: 'boat_sales',
						from: MAR27,
						to: MAR27,
						open: ['list_price'],
						where: { product: 'eider-10' }
					}
				),
				'list_price'
			)[0];
		const first = await view();
		const [shown, typed] = [first.cells[0] as number, first.typed![0] as number];
		expect(shown).toBeCloseTo(typed * 1.05, 9);
		const row = first.targets[0]!.row!;
		await typeInModel({ db, user: maren }, WHAT_IF, 'boat_sales', [
			{ line: 'list_price', row, period: MAR27, before: typed, value: 1000 }
		]);
		expect((await view()).cells[0]).toBeCloseTo(1050, 9);
		expect((await view()).typed![0]).toBe(1000);
	});
	it('leave what the basis gives to be seen beside them', async () => {
		const of = async (scenario: string) =>
			(await readDepartmentPlan({ db, user: maren }, scenario, 'dealer-sales', OCT26, OCT26 + 11)).rows.find(
				(r) => r.account === '5050'
			)!;
		const [plain, adjusted] = [await of(FORECAST), await of(WHAT_IF)];
		expect(plain.basisTotal).toBeCloseTo(plain.total as number, 6);
		expect(adjusted.total).toBeLessThan(plain.total as number);
		// Last year's months that are themselves adjusted would differ; within a year none is.
		expect(adjusted.basisTotal).toBeCloseTo(plain.basisTotal as number, 6);
	});
	it('go with a copy, and are independent of it', async () => {
		const copy = await copyScenario({ db, user: maren }, WHAT_IF, 'Another', 'what-if');
		expect(await readAdjustmentsOf(db, copy)).toEqual(await readAdjustmentsOf(db, WHAT_IF));
		const before = await profit(WHAT_IF);
		await changeAdjustments({ db, user: maren }, copy, { action: 'remove', code: 'kayak-prices' });
		expect(await profit(WHAT_IF)).toBe(before);
		expect(await profit(copy)).toBeLessThan(before);
	});
	it('are refused where they could not work, and by whom they may not be changed', async () => {
		const put = (adjustment: AdjustmentDefinition, user = maren, scenario = WHAT_IF) =>
			refusal(changeAdjustments({ db, user }, scenario, { action: 'put', adjustment }));
		const before = await contentOf(db);
		const on = (block: string, line: string, more = {}): AdjustmentDefinition => ({
			...rise,
			steps: [{ ...rise.steps[0], ...more, lines: [{ block, line }] }] as AdjustmentDefinition['steps']
		});
		expect((await put(on('boat_sales', 'margin'))).message).toMatch(/is computed/);
		expect((await put(on('boat_sales', 'gone'))).message).toMatch(/no line “boat_sales.gone”/);
		expect((await put(on('boat_sales', 'units', { from: 'spring' }))).message).toMatch(
			/“spring” is no month/
		);
		// Members rest on those of the month before; a month earlier, on themselves.
		expect(
			(await put(on('accounts', '9010', { operation: 'shift', periods: -1, value: undefined }))).message
		).toMatch(/need each other's result in the same month/);
		expect((await put({ ...rise, name: 'New freight contract' })).status).toBe(409);
		expect((await put(rise, await userOf(db, 'tom'))).status).toBe(403);
		expect((await put(rise, await userOf(db, 'oliver'))).status).toBe(403);
		expect((await put(rise, maren, 'fy27-budget')).message).toMatch(/is locked/);
		expect((await put(rise, maren, 'actuals')).status).toBe(403);
		expect(await contentOf(db)).toBe(before);
	});
	it('are applied in the order they are put in', async () => {
		const set: AdjustmentDefinition = {
			...rise,
			code: 'set',
			name: 'One price',
			steps: [{ ...rise.steps[0], operation: 'set', value: 500 } as AdjustmentDefinition['steps'][number]]
		};
		await changeAdjustments({ db, user: maren }, WHAT_IF, { action: 'put', adjustment: rise });
		await changeAdjustments({ db, user: maren }, WHAT_IF, { action: 'put', adjustment: set });
		const last = await profit(WHAT_IF);
		await changeAdjustments({ db, user: maren }, WHAT_IF, { action: 'move', code: 'set', to: 0 });
		expect((await readAdjustmentsOf(db, WHAT_IF)).map((a) => a.code)[0]).toBe('set');
		expect(await profit(WHAT_IF)).toBeGreaterThan(last);
	});
});

describe('adopting', () => {
	it('takes earlier ones along that change the same lines, as their order counts', () => {
		const one = (code: string, line: string, on = true): AdjustmentDefinition => ({
			...rise,
			code,
			on,
			steps: [{ ...rise.steps[0], lines: line.split(' ').map((l) => ({ block: 'm', line: l })) }]
		});
		const list = [
			one('a', 'price units'),
			one('b', 'cost'),
			one('c', 'units', false),
			one('d', 'price cost')
		];
		expect(adoptedWith(list, 'd').map((a) => a.code)).toEqual(['a', 'b', 'd']);
		expect(adoptedWith(list, 'c').map((a) => a.code)).toEqual(['a', 'c']);
		expect(adoptedWith(list, 'b').map((a) => a.code)).toEqual(['b']);
	});
	it('writes them into the inputs and changes no figure; taking it back restores every cell', async () => {
		const inputs = await contentOf(db, ['series', 'adjustment', 'basis']);
		const before = await figures(WHAT_IF);
		const done = await adoptAdjustments({ db, user: maren }, WHAT_IF, [
			'kayak-prices',
			'lakes-recover',
			'freight-contract'
		]);
		expect(done.saved).toBeGreaterThan(100);
		expect((await readAdjustmentsOf(db, WHAT_IF)).every((a) => a.adopted !== null && !a.on)).toBe(true);
		const after = await figures(WHAT_IF);
		after.forEach((department, d) =>
			department.forEach((row, r) =>
				row.forEach((cell, c) => {
					if (typeof cell === 'number') expect(cell).toBeCloseTo(before[d][r][c] as number, 6);
					else expect(cell).toBe(before[d][r][c]);
				})
			)
		);
		const [save] = await savesOf({ db, user: maren }, WHAT_IF);
		expect(save).toMatchObject({ batch: done.batch, kind: 'adopt', user: 'Maren Holt', undoable: true });
		expect(save.count).toBe(done.saved + 3);
		await undoSave({ db, user: maren }, WHAT_IF, done.batch);
		expect(await contentOf(db, ['series', 'adjustment', 'basis'])).toBe(inputs);
		expect(await figures(WHAT_IF)).toEqual(before);
		// And what was taken back can be brought back.
		const [undo] = await savesOf({ db, user: maren }, WHAT_IF);
		await undoSave({ db, user: maren }, WHAT_IF, undo.batch);
		expect(await figures(WHAT_IF)).toEqual(after);
	});
	it('writes a shifted account in, whatever its plan comes from; taking it back restores all of it', async () => {
		const lines = ['5010', '6240'].map((line) => ({ block: 'accounts', line }));
		const later: AdjustmentDefinition = {
			...rise,
			steps: [{ operation: 'shift', periods: 1, lines, where: {}, from: '2026-12' }]
		};
		const origins = async () => {
			const { rows } = await readDepartmentPlan(
				{ db, user: maren },
				WHAT_IF,
				'dealer-sales',
				OCT26,
				OCT26 + 11
			);
			return rows.filter((r) => lines.some((l) => l.line === r.account)).map((r) => r.origin!.kind);
		};
		expect(new Set(await origins())).toEqual(new Set(['posted', 'basis']));
		const without = await figures(WHAT_IF);
		await changeAdjustments({ db, user: maren }, WHAT_IF, { action: 'put', adjustment: later });
		const shifted = await figures(WHAT_IF);
		expect(shifted).not.toEqual(without);
		const stored = await contentOf(db, ['series', 'basis', 'adjustment']);
		const { batch } = await adoptAdjustments({ db, user: maren }, WHAT_IF, ['rise']);
		// Over a basis that would show again, a month that was moved away holds 0.
		const amounts = (all: Awaited<ReturnType<typeof figures>>) =>
			all.map((rows) => rows.map((r) => r.map((c) => c ?? 0)));
		expect(amounts(await figures(WHAT_IF))).toEqual(amounts(shifted));
		await undoSave({ db, user: maren }, WHAT_IF, batch);
		expect(await contentOf(db, ['series', 'basis', 'adjustment'])).toBe(stored);
		expect(await figures(WHAT_IF)).toEqual(shifted);
	});
	it('is not taken back over what somebody has typed since', async () => {
		const { batch } = await adoptAdjustments({ db, user: maren }, WHAT_IF, ['kayak-prices']);
		const [change] = await db('journal').where({ batch, kind: 'adopt' }).limit(1);
		const [, line, row] = change.subject.split('/');
		await typeInModel({ db, user: maren }, WHAT_IF, 'boat_sales', [
			{ line, row, period: MAR27, before: Number(change.after), value: 1 }
		]);
		const before = await contentOf(db);
		const r = await refusal(undoSave({ db, user: maren }, WHAT_IF, batch));
		expect(r).toMatchObject({ status: 409, data: [{ theirs: 1, user: 'Maren Holt' }] });
		expect(await contentOf(db)).toBe(before);
	});
	it('is refused in a locked scenario and over a plan that was submitted', async () => {
		await setLock({ db, user: maren }, WHAT_IF, true, '');
		expect((await refusal(adoptAdjustments({ db, user: maren }, WHAT_IF, ['kayak-prices']))).message).toMatch(
			/is locked/
		);
		const freight = (await readAdjustmentsOf(db, WHAT_IF))[2];
		const pay: AdjustmentDefinition = {
			...freight,
			name: 'Less pay',
			steps: [{ ...freight.steps[0], lines: [{ block: 'accounts', line: '5100' }] }]
		};
		await changeAdjustments({ db, user: maren }, 'fy28-budget', { action: 'put', adjustment: pay });
		const r = await refusal(adoptAdjustments({ db, user: maren }, 'fy28-budget', [pay.code]));
		expect(r.status).toBe(403);
		expect(r.message).toMatch(/submitted|review|approved/);
	});
	it('and taking back stop before a plan that was submitted meanwhile', async () => {
		const tom = await userOf(db, 'tom');
		const at = { account: '6240', period: 2027 * 12 + 3 };
		await typeInPlan({ db, user: tom }, 'fy28-budget', 'dealer-sales', [{ ...at, before: null, value: 5 }]);
		const [{ batch }] = await savesOf({ db, user: maren }, 'fy28-budget');
		await db('submission').where({ department: 'dealer-sales' }).update({ state: 'submitted' });
		const before = await contentOf(db);
		expect((await refusal(undoSave({ db, user: maren }, 'fy28-budget', batch))).message).toMatch(/submitted/);
		expect(await contentOf(db)).toBe(before);
	});
});

describe('taking back', () => {
	const newest = async (scenario: string) => (await savesOf({ db, user: maren }, scenario))[0].batch;
	it('gives a basis and a formula back, unless they have been changed since', async () => {
		const inputs = await contentOf(db, ['basis', 'scenario_model']);
		const basis = (percent: number) =>
			saveBasis({ db, user: maren }, FORECAST, 'dealer-sales', '6240', { kind: 'last-year', percent });
		const formula = (text: string) =>
			saveFormula(
				{ db, user: maren },
				{
					scenario: FORECAST,
					model: 'boat_sales',
					line: 'margin',
					formula: text,
					also: []
				}
			);
		await basis(0.5);
		const first = await newest(FORECAST);
		await formula('revenue - material * 2');
		const second = await newest(FORECAST);
		await undoSave({ db, user: maren }, FORECAST, second);
		await undoSave({ db, user: maren }, FORECAST, first);
		expect(await contentOf(db, ['basis', 'scenario_model'])).toBe(inputs);
		await basis(0.6);
		const third = await newest(FORECAST);
		await basis(0.7);
		expect((await refusal(undoSave({ db, user: maren }, FORECAST, third))).message).toMatch(
			/The basis has been changed/
		);
		await formula('revenue - material * 3');
		const fourth = await newest(FORECAST);
		await formula('revenue - material * 4');
		expect((await refusal(undoSave({ db, user: maren }, FORECAST, fourth))).status).toBe(409);
	});
	it('puts an adjustment back where it stood, and not over another form of it', async () => {
		const order = async () => (await readAdjustmentsOf(db, WHAT_IF)).map((a) => a.code);
		const list = await readAdjustmentsOf(db, WHAT_IF);
		await changeAdjustments({ db, user: maren }, WHAT_IF, { action: 'remove', code: 'lakes-recover' });
		await undoSave({ db, user: maren }, WHAT_IF, await newest(WHAT_IF));
		expect(await readAdjustmentsOf(db, WHAT_IF)).toEqual(list);
		await changeAdjustments({ db, user: maren }, WHAT_IF, {
			action: 'move',
			code: 'freight-contract',
			to: 0
		});
		expect(await order()).toEqual(['freight-contract', 'kayak-prices', 'lakes-recover']);
		await undoSave({ db, user: maren }, WHAT_IF, await newest(WHAT_IF));
		expect(await readAdjustmentsOf(db, WHAT_IF)).toEqual(list);
		await changeAdjustments({ db, user: maren }, WHAT_IF, { action: 'put', adjustment: rise });
		const added = await newest(WHAT_IF);
		await changeAdjustments({ db, user: maren }, WHAT_IF, { action: 'switch', code: 'rise', on: false });
		expect((await refusal(undoSave({ db, user: maren }, WHAT_IF, added))).message).toMatch(
			/adjustment has been changed/
		);
		await undoSave({ db, user: maren }, WHAT_IF, await newest(WHAT_IF));
		await undoSave({ db, user: maren }, WHAT_IF, added);
		expect(await readAdjustmentsOf(db, WHAT_IF)).toEqual(list);
	});

	it('over rows of a schedule are written into the rows, and taken back as one', async () => {
		const BUDGET = 'fy28-budget';
		const APR27 = 2027 * 12 + 3;
		const window = { scenario: BUDGET, schedule: 'staff', from: APR27, to: APR27 + 11, line: 'pay' };
		const read = () => readSchedule({ db, user: maren }, window);
		const before = await read();
		const open = before.list.filter((r) => r.values.open_post === true);
		expect(open.length).toBeGreaterThan(1);
		const about = { where: { open_post: 'yes' }, lines: [{ block: 'staff', line: 'start' }] };
		const adjustment: AdjustmentDefinition = {
			code: 'later',
			name: 'Hire later, for more',
			on: true,
			steps: [
				{ operation: 'shift', periods: 2, ...about },
				{ operation: 'multiply', value: 1.05, ...about, lines: [{ block: 'staff', line: 'annual' }] }
			],
			adopted: null
		};
		const context = { db, user: maren };
		await changeAdjustments(context, BUDGET, { action: 'put', adjustment });
		const under = await read();
		expect(under.totals.at(-1)).toBeLessThan(Number(before.totals.at(-1)));
		// What stands in rows is what was typed; what is made of it is told beside.
		expect(under.list).toEqual(before.list);
		const shown = under.rows.find((r) => r.id === open[0].id)!;
		expect(shown.adjusted).toMatchObject({ annual: Number(open[0].values.annual) * 1.05 });
		expect(String(shown.adjusted!.start) > String(open[0].values.start)).toBe(true);
		expect(under.rows.filter((r) => Object.keys(r.adjusted ?? {}).length).map((r) => r.id)).toEqual(
			open.map((r) => r.id)
		);
		const { saved, batch, adopted } = await adoptAdjustments(context, BUDGET, ['later']);
		expect(adopted).toEqual(['Hire later, for more']);
		expect(saved).toBe(2 * open.length);
		const after = await read();
		expect(after.totals).toEqual(under.totals);
		expect(after.list.find((r) => r.id === open[0].id)!.values).toMatchObject(shown.adjusted!);
		expect(after.rows.some((r) => r.adjusted)).toBe(false);
		await undoSave(context, BUDGET, batch);
		const back = await read();
		expect([back.list, back.totals]).toEqual([before.list, under.totals]);
		await changeAdjustments(context, BUDGET, { action: 'switch', code: 'later', on: false });
		expect((await read()).totals).toEqual(before.totals);
	});
	it('over rows are refused where they would leave rows that cannot be, with the row and column', async () => {
		const BUDGET = 'fy28-budget';
		const context = { db, user: maren };
		const put = (steps: AdjustmentDefinition['steps']) =>
			changeAdjustments(context, BUDGET, {
				action: 'put',
				adjustment: { code: 'x', name: 'X', on: true, steps, adopted: null }
			});
		const about = { where: {}, lines: [{ block: 'staff', line: 'end' }] };
		const typed = await refusal(put([{ operation: 'set', value: 'soon', ...about }]));
		expect(typed).toMatchObject({ status: 422, faults: [{ column: 'steps.1.lines' }] });
		await put([{ operation: 'set', value: '2001-01-01', ...about }]);
		const refused = await refusal(adoptAdjustments(context, BUDGET, ['x']));
		expect(refused.status).toBe(422);
		expect(refused.faults?.[0]).toMatchObject({ column: expect.stringMatching(/\/end$/) as string });
		expect((await readAdjustmentsOf(db, BUDGET))[0].adopted).toBeNull();
	});
});
