/** A calculated plan follows what is typed into rows of schedules, and its adjustments: the same as one made anew, without being made anew. */
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RowChange } from '../../src/lib/core/blocks/schedule/row-changes';
import type { ScheduleRow } from '../../src/lib/core/blocks/schedule/schema';
import { calculateScenario } from '../../src/lib/core/scenario/assemble';
import type { AdjustmentDefinition } from '../../src/lib/core/inputs/schema';
import { changeAdjustments, type AdjustmentChange } from '../../src/lib/server/changes/adjustments';
import { readAdjustmentsOf } from '../../src/lib/server/company/subjects/scenario/adjustments';
import { undoSave } from '../../src/lib/server/changes/history';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { scenarioForms } from '../../src/lib/server/scenarios/plan-data';
import { dataOf, planOf } from '../../src/lib/server/scenarios/plans';
import { saveRows } from '../../src/lib/server/schedules/rows';
import { DEMO, loaded, userOf } from '../support/company';

const BUDGET = 'fy28-budget';
let db: Knex;
let maren: User;
beforeAll(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
});
afterAll(() => db.destroy());

const rowsOf = async (schedule: string) => (await planOf(db, BUDGET)).schedules.get(schedule)!.rows;
const save = (schedule: string, changes: RowChange[], batch = `b${Math.random()}`) =>
	saveRows({ db, user: maren }, { scenario: BUDGET, schedule, changes }, { batch });
const set = ({ id, values }: ScheduleRow, column: string, value: string | number | boolean | null) =>
	({ kind: 'set', id, column, before: values[column] ?? null, value }) satisfies RowChange;

const adjust = (change: AdjustmentChange) => changeAdjustments({ db, user: maren }, BUDGET, change);
/** Multiplies what is in a column or line, of all rows or some. */
const rise = (
	code: string,
	{
		block = 'staff',
		line = 'annual',
		value = 1.1,
		where = {}
	}: Partial<Record<'block' | 'line', string>> & {
		value?: number;
		where?: Record<string, string>;
	}
): AdjustmentDefinition => ({
	code,
	name: code,
	on: true,
	adopted: null,
	steps: [{ operation: 'multiply', value, lines: [{ block, line }], where }]
});

const same = (a: Float64Array, b: Float64Array) => a.every((v, i) => Object.is(v, b[i]));

/** Whether it is the calculation that stood there before; its figures are those of one made anew, in any case. */
async function follows(act: () => Promise<unknown>): Promise<boolean> {
	const before = await planOf(db, BUDGET);
	await act();
	const plan = await planOf(db, BUDGET);
	const anew = calculateScenario(plan.structure, await dataOf(db, BUDGET));
	for (const block of ['staff', 'staff_shares', 'contracts', 'assets', 'accounts'])
		for (const { code } of anew.calculation.block(block).lines)
			expect(
				same(plan.calculation.matrix(block, code).values, anew.calculation.matrix(block, code).values),
				`${block}.${code}`
			).toBe(true);
	for (const [code, block] of anew.blocks)
		expect(block.rows.map((_, r) => plan.blocks.get(code)!.rowName(block.idOf(r)))).toEqual(
			block.rows.map((_, r) => block.rowName(block.idOf(r)))
		);
	expect([...plan.schedules]).toEqual([...anew.schedules]);
	return plan.calculation === before.calculation;
}

describe('a plan that was calculated', () => {
	it('follows dates, amounts, choices and names of rows, and what takes them back', async () => {
		const [person] = await rowsOf('staff');
		const batch = 'dates';
		expect(
			await follows(() =>
				save(
					'staff',
					[
						set(person, 'name', 'Somebody Else'),
						set(person, 'end', '2027-09-30'),
						set(person, 'annual', 61_000),
						set(person, 'open_post', true)
					],
					batch
				)
			)
		).toBe(true);
		expect((await rowsOf('staff'))[0].values).toMatchObject({ name: 'Somebody Else', end: '2027-09-30' });
		await follows(() => undoSave({ db, user: maren }, BUDGET, batch));
		expect((await rowsOf('staff'))[0]).toEqual(person);
	});
	it('follows lives and terms, however long', async () => {
		const [asset] = await rowsOf('assets');
		const contract = (await rowsOf('contracts')).find((c) => c.values.end)!;
		expect(await follows(() => save('assets', [set(asset, 'life', 61)]))).toBe(true);
		expect(await follows(() => save('assets', [set(asset, 'in_service', '2004-05-06')]))).toBe(true);
		expect(await follows(() => save('contracts', [set(contract, 'amount', 43_210)]))).toBe(true);
	});
	it('is made anew where a row comes, goes or stands elsewhere', async () => {
		const [person, ...others] = await rowsOf('staff');
		expect(
			await follows(() => save('staff', [{ kind: 'add', row: { id: 'N1', values: person.values } }]))
		).toBe(false);
		const elsewhere = others.find((o) => o.values.department !== person.values.department)!;
		const department = elsewhere.values.department as string;
		expect(await follows(() => save('staff', [set(person, 'department', department)]))).toBe(false);
		expect(await follows(() => save('staff', [{ kind: 'remove', id: 'N1' }]))).toBe(false);
	});
	it('is made anew where an adjustment asks which rows it reaches', async () => {
		const [person] = await rowsOf('staff');
		await adjust({ action: 'put', adjustment: rise('posts', { where: { open_post: 'yes' } }) });
		await planOf(db, BUDGET);
		expect(await follows(() => save('staff', [set(person, 'open_post', true)]))).toBe(false);
		// Under the adjustment, what is typed follows.
		expect(await follows(() => save('staff', [set(person, 'annual', 50_000)]))).toBe(true);
		await adjust({ action: 'remove', code: 'posts' });
	});
	it('follows adjustments that are switched, changed, moved, taken out and added', async () => {
		const put = (adjustment: AdjustmentDefinition) => follows(() => adjust({ action: 'put', adjustment }));
		// No line of it was adjusted when it was made.
		expect(await put(rise('all', { block: 'assets', line: 'cost' }))).toBe(false);
		expect(await put(rise('some', { block: 'assets', line: 'cost', value: 1.25 }))).toBe(true);
		expect(await put(rise('some', { block: 'assets', line: 'cost', value: 2 }))).toBe(true);
		expect(await follows(() => adjust({ action: 'switch', code: 'all', on: false }))).toBe(true);
		expect(await follows(() => adjust({ action: 'move', code: 'some', to: 0 }))).toBe(true);
		const [asset] = await rowsOf('assets');
		expect(
			await follows(async () => {
				await save('assets', [set(asset, 'cost', 77_000)]);
				await adjust({ action: 'switch', code: 'all', on: true });
			})
		).toBe(true);
		// What was typed is undone by what is done to it: the figure before it comes back, and is no longer there.
		expect(await put(rise('some', { block: 'assets', line: 'cost', value: 1 }))).toBe(true);
		const [now] = await rowsOf('assets');
		expect(await follows(() => save('assets', [set(now, 'cost', 154_000)]))).toBe(true);
		expect(await put(rise('some', { block: 'assets', line: 'cost', value: 0.5 }))).toBe(true);
		expect(await follows(() => adjust({ action: 'remove', code: 'all' }))).toBe(true);
		const { code } = (await readAdjustmentsOf(db, BUDGET))[0];
		expect(await follows(() => adjust({ action: 'switch', code, on: false }))).toBe(true);
	});
	it('is made anew where an adjustment comes to ask of rows what has been typed in them since', async () => {
		const [, , person] = await rowsOf('staff');
		await adjust({ action: 'put', adjustment: rise('pay', {}) });
		expect(await follows(() => save('staff', [set(person, 'open_post', true)]))).toBe(true);
		expect(
			await follows(() => adjust({ action: 'put', adjustment: rise('pay', { where: { group: 'office' } }) }))
		).toBe(true);
		expect(
			await follows(() => adjust({ action: 'put', adjustment: rise('pay', { where: { open_post: 'yes' } }) }))
		).toBe(false);
	});
});

describe('what stands in schedules', () => {
	it('stays the very same where it reads the same, row by row', async () => {
		const before = (await scenarioForms(db, BUDGET)).schedules;
		const [staff] = before;
		const [first, second] = staff.rows;
		const batch = 'one value';
		await save('staff', [set(second, 'name', 'Somebody New')], batch);
		const after = (await scenarioForms(db, BUDGET)).schedules;
		expect(after.map((s, i) => s === before[i])).toEqual(before.map((_, i) => i !== 0));
		expect(after[0].definition === staff.definition).toBe(true);
		expect(after[0].rows[0] === first).toBe(true);
		expect(after[0].rows[1].values.name).toBe('Somebody New');
		await undoSave({ db, user: maren }, BUDGET, batch);
		const back = (await scenarioForms(db, BUDGET)).schedules;
		expect(back).toEqual(before);
		// Nothing is taken for what it was before it moved.
		await save('staff', [{ kind: 'remove', id: first.id }]);
		expect((await scenarioForms(db, BUDGET)).schedules[0].rows).toEqual(staff.rows.slice(1));
	});
});
