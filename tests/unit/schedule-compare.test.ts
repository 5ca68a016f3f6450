/** Rows of a schedule against another scenario: who is new, gone or different, in what, and what of it each role is told. */
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ScheduleRow } from '../../src/lib/core/blocks/schedule/schema';
import { changeAdjustments } from '../../src/lib/server/changes/adjustments';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { companyState } from '../../src/lib/server/company/structure';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import { compareSchedule } from '../../src/lib/server/schedules/compare';
import { saveRows } from '../../src/lib/server/schedules/rows';
import { readSchedule } from '../../src/lib/server/schedules/schedules';
import { DEMO, loaded, secondAnalyst, userOf } from '../support/company';

const BUDGET = 'fy28-budget';
const APR27 = 2027 * 12 + 3;
let db: Knex;
let maren: User;
let whatIf: string;
let posts: ScheduleRow[];
const asked = (more: object = {}) => ({
	scenario: whatIf,
	schedule: 'staff',
	line: 'pay',
	from: APR27,
	to: APR27 + 11,
	...more
});
const by = (user: User) => ({ db, user });
const compare = (user: User, more: object = {}) => compareSchedule(by(user), asked(more), BUDGET);
const day = (text: unknown, months: number) => {
	const d = new Date(`${text as string}T00:00:00Z`);
	d.setUTCMonth(d.getUTCMonth() + months);
	return d.toISOString().slice(0, 10);
};

beforeAll(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
	whatIf = await copyScenario(by(maren), BUDGET, 'Hire earlier', 'what-if');
	const { list } = await readSchedule(by(maren), asked());
	posts = list.filter((r) => r.values.open_post === true);
	expect(posts.length).toBeGreaterThan(2);
});
afterAll(() => db.destroy());

describe('a schedule against another scenario', () => {
	it('is the same as long as nothing is changed', async () => {
		expect(await compare(maren)).toMatchObject({
			scenario: BUDGET,
			line: 'pay',
			counts: { new: 0, gone: 0, different: 0 },
			rows: []
		});
	});
	it('says who is new, gone or different, in which columns and months, and what it comes to', async () => {
		const [moved, dropped, raised] = posts;
		await saveRows(by(maren), {
			scenario: whatIf,
			schedule: 'staff',
			changes: [
				{
					kind: 'set',
					id: moved.id,
					column: 'start',
					before: moved.values.start,
					value: day(moved.values.start, -1)
				},
				{ kind: 'remove', id: dropped.id },
				{ kind: 'add', row: { id: 'X1', values: { ...raised.values, name: 'New post' } } }
			],
			edits: [APR27 + 3, APR27 + 5].map((period) => ({
				block: 'staff',
				line: 'raise',
				row: raised.id,
				period,
				before: null,
				value: 0.03
			}))
		});
		const found = await compare(maren);
		expect(found.counts).toEqual({ new: 1, gone: 1, different: 2 });
		expect(found.rows.filter((r) => r.what !== 'different')).toEqual([
			{ id: 'X1', name: 'New post', what: 'new', differences: [] },
			{ id: dropped.id, name: dropped.values.name, what: 'gone', differences: [] }
		]);
		expect(found.rows.find((r) => r.id === moved.id)!.differences).toEqual([
			{ in: 'start', here: day(moved.values.start, -1), there: moved.values.start }
		]);
		expect(found.rows.find((r) => r.id === raised.id)!.differences).toEqual([
			{ in: 'raise', first: APR27 + 3, months: 2, here: 0.03, there: null }
		]);
		const sum = async (scenario: string) =>
			(await readSchedule(by(maren), { ...asked(), scenario })).totals.at(-1);
		expect(found.totals).toEqual({ here: await sum(whatIf), there: await sum(BUDGET) });
		expect(found.totals.here).not.toBe(found.totals.there);
		// The other way round, what is new is gone.
		const back = await compareSchedule(by(maren), { ...asked(), scenario: BUDGET }, whatIf);
		expect(back.counts).toEqual({ new: 1, gone: 1, different: 2 });
		expect(back.rows.find((r) => r.what === 'gone')!.id).toBe('X1');
	});
	it('counts what adjustments make of rows', async () => {
		const steps = [
			{
				operation: 'shift' as const,
				periods: 3,
				lines: [{ block: 'staff', line: 'start' }],
				where: { staff: posts[2].id }
			}
		];
		const adjustment = { code: 'later', name: 'Later', on: true, steps, adopted: null };
		await changeAdjustments(by(maren), whatIf, { action: 'put', adjustment });
		const { rows } = await compare(maren);
		expect(rows.find((r) => r.id === posts[2].id)!.differences).toContainEqual({
			in: 'start',
			here: day(posts[2].values.start, 3),
			there: posts[2].values.start
		});
		await changeAdjustments(by(maren), whatIf, { action: 'remove', code: 'later' });
	});
	it('tells who may not see pay of dates alone', async () => {
		const noor = await secondAnalyst(db);
		const { rows, counts, line } = await compare(noor);
		expect(counts).toEqual({ new: 1, gone: 1, different: 1 });
		expect(rows.flatMap((r) => r.differences.map((d) => d.in))).toEqual(['start']);
		expect(line).not.toBe('pay');
	});
	it('tells who plans a department of its own rows', async () => {
		const hugh = await userOf(db, 'hugh');
		const seen = await compare(hugh, { line: 'fte' });
		const own = new Set(posts.filter((p) => p.values.department === 'refit-yard').map((p) => p.id));
		for (const { id } of seen.rows) expect(own.has(id) || id === 'X1').toBe(true);
		await expect(compare(hugh, { department: 'hull-shop' })).rejects.toMatchObject({ status: 403 });
		await expect(
			compareSchedule(by(hugh), { ...asked(), scenario: BUDGET }, 'nowhere')
		).rejects.toMatchObject({ status: 404 });
	});
	it('holds what counts in the department that is asked for', async () => {
		const home = String(posts[0].values.department);
		const here = await compare(maren, { department: home });
		expect(here.rows.map((r) => r.id)).toContain(posts[0].id);
		const { structure } = await companyState(db);
		const elsewhere = structure.departments.all.find(
			(d) => structure.departments.isLeaf(d.code) && [...posts].every((p) => p.values.department !== d.code)
		)!;
		expect((await compare(maren, { department: elsewhere.code })).rows).toEqual([]);
	});
});
