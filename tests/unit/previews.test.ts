/** Driver models and schedules with what is typed and not saved: what a page is told before it calculates itself. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RowChange } from '../../src/lib/core/blocks/schedule/row-changes';
import { newBatch } from '../../src/lib/server/company/journal';
import { previewSchedule } from '../../src/lib/server/schedules/preview';
import { saveRows } from '../../src/lib/server/schedules/rows';
import { readSchedule } from '../../src/lib/server/schedules/schedules';
import { previewModel } from '../../src/lib/server/models/preview';
import { readWrittenModel } from '../../src/lib/server/models/models';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { DEMO, loaded, refusedIn, secondAnalyst, typeInModel, userOf } from '../support/company';

const SCENARIO = 'fy28-budget';
const SALES = {
	scenario: SCENARIO,
	model: 'boat_sales',
	from: '2027-04',
	to: '2028-03',
	periods: 'company' as const,
	open: ['units', 'revenue']
};
const ROW = 'tern-9|dealer|south';
let db: Knex;
let maren: User;
beforeEach(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
});
afterEach(() => db.destroy());

const shown = async (user: User) => (await readWrittenModel({ db, user }, SALES)).rows;
const edit = (value: number | null, line = 'units') => ({ line, row: ROW, period: '2027-07', value });

describe('a model with cells typed and not saved', () => {
	it('has the rows that it has once they are saved, and no others are told; nothing is kept', async () => {
		const before = await shown(maren);
		const changes = await previewModel({ db, user: maren }, SALES, [edit(77)]);
		expect(await shown(maren)).toEqual(before);
		const cell = before.find((r) => r.key === `units@${ROW}`)!.cells[3] as number;
		await typeInModel({ db, user: maren }, SCENARIO, 'boat_sales', [
			{ line: 'units', row: ROW, period: 2027 * 12 + 6, before: cell, value: 77 }
		]);
		const was = new Map(before.map((r) => [r.key, r]));
		const other = (await shown(maren)).filter((r) => r.cells.some((c, i) => c !== was.get(r.key)!.cells[i]));
		expect(changes!.rows).toEqual(other);
		expect(other.map((r) => r.key)).toContain(`units@${ROW}`);
		expect(other.length).toBeGreaterThan(3);
		expect(changes!.moreErrors).toBe(0);
	});
	it('is as it was where a cell cannot be typed', async () => {
		for (const own of [
			edit(5, 'revenue'),
			edit(5, 'nope'),
			{ ...edit(5), row: 'nope' },
			{ ...edit(5), period: '2031-01' }
		])
			expect(await previewModel({ db, user: maren }, SALES, [own])).toEqual({ rows: [], moreErrors: 0 });
	});
	it('tells nothing to those who may not see all that schedules hold', async () => {
		for (const user of [await userOf(db, 'oliver'), await secondAnalyst(db)])
			expect(await previewModel({ db, user }, SALES, [edit(77)])).toBeNull();
		const tom = await userOf(db, 'tom');
		expect(await refusedIn(db, previewModel({ db, user: tom }, SALES, [edit(77)]))).toMatchObject({
			status: 403
		});
	});
	it('is refused for what is no period, no model, and a scenario that is hidden', async () => {
		const refused = (more: object, own = edit(1)) =>
			refusedIn(db, previewModel({ db, user: maren }, { ...SALES, ...more }, [own]));
		expect(await refused({}, { ...edit(1), period: '2027' })).toMatchObject({ status: 400 });
		expect(await refused({ model: 'nope' })).toMatchObject({ status: 404 });
		await db('scenario').where({ code: SCENARIO }).update({ visibility: 'people', owner: 'somebody@else' });
		const oliver = await userOf(db, 'oliver');
		expect(await refusedIn(db, previewModel({ db, user: oliver }, SALES, [edit(1)]))).toMatchObject({
			status: 404
		});
	});
});

describe('a schedule with rows and months changed and not saved', () => {
	const STAFF = {
		scenario: SCENARIO,
		schedule: 'staff',
		department: 'kelpwick',
		from: 2027 * 12 + 3,
		to: 2028 * 12 + 2
	};
	const read = async () => (await readSchedule({ db, user: maren }, STAFF)).rows;
	/** Another pay of the first person. */
	async function raised() {
		const { list } = await readSchedule({ db, user: maren }, STAFF);
		const [{ id, values }] = list;
		const [before, value] = [values.annual as number, (values.annual as number) + 1200];
		return { id, changes: [{ kind: 'set' as const, id, column: 'annual', before, value }] };
	}
	it('shows what it shows once they are saved, and no others are told; nothing is kept', async () => {
		const before = await read();
		const { id, changes } = await raised();
		const told = await previewSchedule({ db, user: maren }, STAFF, { changes, edits: [] });
		expect(await read()).toEqual(before);
		await saveRows(
			{ db, user: maren },
			{ scenario: SCENARIO, schedule: 'staff', changes, edits: [] },
			{ batch: newBatch() }
		);
		const was = new Map(before.map((r) => [r.key, r]));
		const other = (await read()).filter((r) => r.cells.some((c, i) => c !== was.get(r.key)!.cells[i]));
		expect(told!.rows).toEqual(other);
		expect(other.map((r) => r.id)).toEqual([id]);
	});
	it('is told line by line, whatever was asked before', async () => {
		const { changes } = await raised();
		const told = async (line: string, own: readonly RowChange[] = changes) =>
			(await previewSchedule({ db, user: maren }, { ...STAFF, line }, { changes: own, edits: [] }))!;
		const pay = await told('pay');
		expect(pay.rows).toHaveLength(1);
		// Who is paid more works no more.
		expect((await told('fte')).rows).toEqual([]);
		expect(await told('pay')).toEqual(pay);
		expect((await told('pay', [])).rows).toEqual([]);
	});
	it('is not tried for who may not see what people earn, nor where rows come or have become others', async () => {
		const { changes } = await raised();
		const tried = async (user: User, own: readonly RowChange[]) =>
			previewSchedule({ db, user }, STAFF, { changes: own, edits: [] });
		expect(await tried(await secondAnalyst(db), changes)).toBeNull();
		expect(await tried(await userOf(db, 'tom'), changes)).toBeNull();
		expect(await tried(maren, [{ ...changes[0], before: 1 }])).toBeNull();
		expect(await tried(maren, [{ kind: 'remove', id: changes[0].id }])).toBeNull();
	});
	it('is refused for a schedule that is not there, and periods that are none', async () => {
		const context = { db, user: maren };
		const nothing = { changes: [], edits: [] };
		expect(
			await refusedIn(db, previewSchedule(context, { ...STAFF, schedule: 'nope' }, nothing))
		).toMatchObject({ status: 404 });
		const edits = [{ block: 'staff', line: 'fte', row: 'K001', period: '2027', value: 1 }];
		expect(await refusedIn(db, previewSchedule(context, STAFF, { changes: [], edits }))).toMatchObject({
			status: 400
		});
	});
});
