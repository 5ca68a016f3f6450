/** A driver model as it would be with cells that are typed and not saved: what a page is told before it calculates itself. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
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
