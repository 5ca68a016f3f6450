/** A new product while planning: rows, units and a price like a sibling's, in the P&L and the reports at once. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { putRule } from '../../src/lib/server/models/combinations';
import { readCompany, readStored, writeCompany } from '../../src/lib/server/company/subjects';
import { readDepartmentPlan } from '../../src/lib/server/accounts/department-plan';
import {
	addDimension,
	addMember,
	changeMember,
	readDimensions,
	removeMember,
	type NewMember
} from '../../src/lib/server/models/members';
import { importMembers } from '../../src/lib/server/models/members-import';
import { companyState } from '../../src/lib/server/company/structure';
import { readModel } from '../../src/lib/server/models/models';
import { addRows } from '../../src/lib/server/models/rows';
import { varianceReport } from '../../src/lib/server/reports/variance';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { contentOf, DEMO, DESIGN, loaded, rowsUnder, refusedIn, userOf } from '../support/company';

const APR27 = 2027 * 12 + 3;
const BUDGET = 'fy28-budget';
const lines = ['units', 'list_price', 'discount', 'unit_material'].map((line) => ({
	model: 'boat_sales',
	line,
	factor: line === 'units' ? 0.5 : 1
}));
const petrel: NewMember = {
	dimension: 'product',
	name: 'Petrel 15',
	parent: 'kayaks',
	attributes: { size: '4.6 m', colour: '' },
	like: { member: 'scoter-14', scenarios: [BUDGET], lines }
};
let db: Knex;
let maren: User;

beforeEach(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
});
afterEach(() => db.destroy());

const refused = (work: Promise<unknown>) => refusedIn(db, work, DESIGN);
const salesRows = async (line: string, product: string, from = APR27) => {
	const view = await readModel(
		{ db, user: maren },
		{
			scenario: BUDGET,
			model: 'boat_sales',
			from,
			to: from + 11,
			open: [line],
			where: { product }
		}
	);
	return rowsUnder(view, line);
};
const revenueOf = async (department: string) =>
	(await readDepartmentPlan({ db, user: maren }, BUDGET, department, APR27, APR27 + 11)).rows.find(
		(r) => r.account === '4010'
	)!.cells as number[];
const reported = async () => {
	const report = await varianceReport(
		{ db, user: maren },
		{
			scenario: BUDGET,
			against: 'fy27-budget',
			department: 'kelpwick',
			period: APR27 + 11,
			span: 'year',
			threshold: { amount: 0, percent: 0 }
		}
	);
	return report.rows.find((r) => r.account === '4010')!;
};

describe('a new product like its sibling', () => {
	it('has its rows, half its units and its price; the P&L and the report hold its revenue at once', async () => {
		const sibling = {
			units: await salesRows('units', 'scoter-14'),
			revenue: await salesRows('revenue', 'scoter-14')
		};
		const before = await revenueOf('dealer-sales');
		const reportBefore = await reported();
		const locked = await contentOf(db, ['series']);
		const added = await addMember({ db, user: maren }, petrel);
		expect(added).toMatchObject({ code: 'petrel-15', rows: 11 });
		const cells = (await salesRows('units', 'petrel-15')).flatMap((r) => r.cells.slice(0, 12));
		expect(cells).toEqual(
			sibling.units.flatMap((r) => r.cells.slice(0, 12)).map((v) => (v === null ? null : (v as number) / 2))
		);
		const dealer = (rows: typeof sibling.revenue) =>
			rows.filter((r) => /Dealer/.test(r.label) && !/Baltic/.test(r.label));
		const revenue = await salesRows('revenue', 'petrel-15');
		const after = await revenueOf('dealer-sales');
		const cent = (v: number) => Math.round(v * 100);
		for (let m = 0; m < 12; m++) {
			const own = dealer(revenue).reduce((s, r) => s + ((r.cells[m] as number) ?? 0), 0);
			const of = dealer(sibling.revenue).reduce((s, r) => s + ((r.cells[m] as number) ?? 0), 0);
			expect(own).toBeCloseTo(of / 2, 6);
			expect(cent(after[m] - before[m])).toBe(cent(own));
		}
		const all = revenue.reduce((s, r) => s + (r.cells.at(-1) as number), 0);
		expect(cent(((await reported()).a as number) - (reportBefore.a as number))).toBe(cent(all));
		// Other scenarios hold nothing new.
		const others = (content: string) =>
			(JSON.parse(content).series as string[]).filter((s) => !s.includes('petrel-15'));
		expect(others(await contentOf(db, ['series']))).toEqual(JSON.parse(locked).series);
		const stored = await readStored(db);
		expect(readCompany(writeCompany(stored))).toEqual(stored);
	});
	it('stands beside it, with attributes of its own and from above', async () => {
		await addMember({ db, user: maren }, petrel);
		const product = (await readDimensions({ db, user: maren })).find((d) => d.code === 'product')!;
		const at = product.members.findIndex((m) => m.code === 'petrel-15');
		expect(product.members[at - 1].code).toBe('scoter-14');
		expect(product.members[at]).toMatchObject({
			depth: 1,
			leaf: true,
			attributes: { size: '4.6 m' },
			inherited: { revenue_account: '4010', material_account: '5010' },
			rows: 11
		});
	});
	it('leaves out what combination rules block', async () => {
		await putRule(
			{ db, user: maren },
			{
				code: 'x',
				name: 'New boats not on the web',
				on: true,
				effect: 'allow',
				lead: {
					dimension: 'product',
					under: ['kayaks'],
					except: ['eider-10', 'eider-12', 'scoter-14', 'scoter-16']
				},
				others: [{ dimension: 'channel', under: ['dealer', 'direct'], except: [] }]
			}
		);
		await addMember({ db, user: maren }, petrel);
		const rows = (await db('model_row')
			.where({ model: 'boat_sales' })
			.whereLike('row', 'petrel-15|%')
			.pluck('row')) as string[];
		const sibling = (await db('model_row')
			.where({ model: 'boat_sales' })
			.whereLike('row', 'scoter-14|%')
			.pluck('row')) as string[];
		expect(rows.map((r) => r.replace('petrel-15', 'scoter-14')).sort()).toEqual(
			sibling.filter((r) => !r.includes('|web|')).sort()
		);
	});
	it('is refused for a name in use, an unknown parent, a locked scenario, and a parent that holds data', async () => {
		const tries: [Partial<NewMember>, RegExp][] = [
			[{ name: 'Scoter 14', code: 'other' }, /named “Scoter 14”/],
			[{ code: 'scoter-14' }, /“scoter-14” already/],
			[{ parent: 'canoes' }, /“canoes”/],
			[{ parent: 'eider-10' }, /“Eider 10” has rows in Boat sales/],
			[{ like: { ...petrel.like!, member: 'kayaks' } }, /total of others/],
			[{ like: { ...petrel.like!, scenarios: ['fy27-budget'] } }, /locked/],
			[{ parent: null }, /4010|leads to/]
		];
		for (const [more, words] of tries)
			expect((await refused(addMember({ db, user: maren }, { ...petrel, ...more }))).message).toMatch(words);
		const tom = await userOf(db, 'tom');
		expect((await refused(addMember({ db, user: tom }, petrel))).status).toBe(403);
	});
});

describe('members', () => {
	it('are renamed and moved, and all figures follow; locked scenarios keep theirs', async () => {
		const called = async () => (await salesRows('units', 'scoter-14'))[0].label;
		const [plan, name] = [await planOf(db, BUDGET), await called()];
		expect(name).not.toMatch(/^Scoter Fourteen/);
		await changeMember({ db, user: maren }, 'product', 'scoter-14', { name: 'Scoter Fourteen' });
		expect(await called()).toMatch(/^Scoter Fourteen/);
		// Nothing was calculated for it.
		expect((await planOf(db, BUDGET)).calculation).toBe(plan.calculation);
		// To another family, and so to another account, also in the locked budget.
		const moved = changeMember({ db, user: maren }, 'product', 'scoter-14', { parent: 'boards' });
		expect((await refused(moved)).message).toMatch(/4010 .*locked/);
		await db('scenario').update({ locked: false });
		const total = async () =>
			(await planOf(db, BUDGET)).calculation.matrix('accounts', '4020').values.reduce((s, v) => s + v, 0);
		const before = await total();
		await changeMember({ db, user: maren }, 'product', 'scoter-14', { parent: 'boards' });
		expect(await total()).toBeGreaterThan(before);
		const circle = changeMember({ db, user: maren }, 'product', 'kayaks', { parent: 'kayaks' });
		expect((await refused(circle)).message).toMatch(/cannot lie under itself/);
	});
	it('stand in another order among their own, with every figure as it was, also in locked scenarios', async () => {
		const order = async () =>
			(await readDimensions({ db, user: maren }))
				.find((d) => d.code === 'product')!
				.members.filter((m) => m.parent === 'kayaks')
				.map((m) => m.code);
		const figures = async () =>
			Object.fromEntries((await salesRows('units', 'kayaks')).map((r) => [r.label, r.cells]));
		const was = await figures();
		expect(await order()).toEqual(['eider-10', 'eider-12', 'scoter-14', 'scoter-16']);
		await changeMember({ db, user: maren }, 'product', 'scoter-16', { before: 'eider-12' });
		expect(await order()).toEqual(['eider-10', 'scoter-16', 'eider-12', 'scoter-14']);
		await changeMember({ db, user: maren }, 'product', 'scoter-16', { before: null });
		expect(await order()).toEqual(['eider-10', 'eider-12', 'scoter-14', 'scoter-16']);
		expect(await figures()).toEqual(was);
		const nowhere = changeMember({ db, user: maren }, 'product', 'scoter-16', { before: 'boards' });
		expect((await refused(nowhere)).message).toMatch(/“boards” does not lie where “Scoter 16” is to go/);
	});
	it('are removed only while nothing speaks of them', async () => {
		expect((await refused(removeMember({ db, user: maren }, 'product', 'eider-10'))).message).toMatch(
			/rows in Boat sales/
		);
		expect((await refused(removeMember({ db, user: maren }, 'product', 'kayaks'))).message).toMatch(
			/under “Kayaks”/
		);
		expect((await refused(removeMember({ db, user: maren }, 'customer', 'sandpiper'))).message).toMatch(
			/ledger entries/
		);
		// Nothing else speaks of it than what stands in rows of a list.
		expect((await refused(removeMember({ db, user: maren }, 'asset_class', 'software'))).message).toMatch(
			/“Software” stands in rows of Assets/
		);
		await addMember(
			{ db, user: maren },
			{ dimension: 'product', name: 'Raft', parent: 'boards', attributes: {} }
		);
		await removeMember({ db, user: maren }, 'product', 'raft');
		expect((await readDimensions({ db, user: maren }))[0].members.some((m) => m.code === 'raft')).toBe(false);
	});
	it('belong to dimensions, also new ones', async () => {
		const code = await addDimension({ db, user: maren }, 'Boat yard');
		expect(code).toBe('boat_yard');
		await addMember(
			{ db, user: maren },
			{
				dimension: code,
				name: 'North yard',
				parent: null,
				attributes: { area: '12' }
			}
		);
		const found = (await readDimensions({ db, user: maren })).find((d) => d.code === code)!;
		expect(found.members[0]).toMatchObject({ code: 'north-yard', attributes: { area: '12' } });
		expect((await refused(addDimension({ db, user: maren }, 'Boat yard'))).status).toBe(409);
	});
});

describe('members from a list', () => {
	const load = (text: string, dry = false) => importMembers({ db, user: maren }, 'product', { text, dry });
	const LIST = 'code,name,parent,size\nscoter-14,Scoter 14 Sport,,4.7 m\n,"Petrel, 15",Kayaks,4.6 m\n';

	it('are shown before, taken as a whole, told in the journal, and usable at once', async () => {
		const before = await contentOf(db);
		const tried = await load(LIST, true);
		expect(tried).toMatchObject({
			read: 2,
			changes: [
				{
					before: { name: 'Scoter 14' },
					after: { code: 'scoter-14', name: 'Scoter 14 Sport', parent: 'kayaks' }
				},
				{ before: null, after: { name: 'Petrel, 15', parent: 'kayaks', attributes: { size: '4.6 m' } } }
			]
		});
		expect(await contentOf(db)).toBe(before);
		await load(LIST);
		const product = (await readDimensions({ db, user: maren })).find((d) => d.code === 'product')!;
		expect(product.members.find((m) => m.code === 'scoter-14')).toMatchObject({
			name: 'Scoter 14 Sport',
			attributes: { size: '4.7 m' }
		});
		const fresh = product.members.find((m) => m.name === 'Petrel, 15')!;
		expect(fresh).toMatchObject({ parent: 'kayaks', leaf: true });
		const entries = await db('journal').where({ kind: 'member' }).pluck('subject');
		expect(entries.slice(-2)).toEqual(['member/product/scoter-14', `member/product/${fresh.code}`]);
		expect(await load(LIST)).toMatchObject({ read: 2, changes: [] });
		const files = writeCompany(await readStored(db));
		expect(writeCompany(readCompany(files))).toEqual(files);
	});
	it('are refused as a whole with each row that is wrong', async () => {
		const error = await refused(load('name,parent\nPetrel 15,kayaks\nX,nowhere\n'));
		expect(error.faults).toEqual([{ row: 3, column: 'parent', message: 'there is no member “nowhere”' }]);
		expect((await refused(load('name\n"open'))).message).toMatch(/cannot be read/);
	});
	it('are refused under one that holds data, under themselves, and where a locked scenario would change', async () => {
		expect((await refused(load('name,parent\nPetrel 15,scoter-14\n'))).message).toMatch(
			/“Scoter 14” .*cannot become a total/
		);
		expect((await refused(load('code,parent\nkayaks,scoter-14\n'))).status).toBe(422);
		await expect(
			importMembers({ db, user: await userOf(db, 'tom') }, 'product', { text: LIST, dry: true })
		).rejects.toMatchObject({ status: 403 });
		await expect(importMembers({ db, user: maren }, 'none', { text: LIST, dry: true })).rejects.toMatchObject(
			{ status: 404 }
		);
	});
});

describe('a retired member', () => {
	const retire = (member: string, retired = true) =>
		changeMember({ db, user: maren }, 'product', member, { retired });
	const product = async (code: string) =>
		(await readDimensions({ db, user: maren }))
			.find((d) => d.code === 'product')!
			.members.find((m) => m.code === code)!;

	it('keeps its figures, and no row is added with it or what lies under it', async () => {
		const before = await contentOf(db, ['series']);
		const total = await reported();
		await retire('kayaks');
		expect(await product('scoter-14')).toMatchObject({ retired: false, offered: false });
		expect(await contentOf(db, ['series'])).toBe(before);
		expect(await reported()).toEqual(total);
		expect((await salesRows('units', 'scoter-14')).length).toBeGreaterThan(0);
		// Of a window in which it holds nothing it is out of sight.
		expect(await salesRows('units', 'scoter-14', APR27 + 24)).toEqual([]);
		for (const rule of (await companyState(db)).rules)
			await putRule({ db, user: maren }, { ...rule, on: false });
		const wanted = [['scoter-14', 'direct', 'baltic']];
		expect((await refused(addRows({ db, user: maren }, 'boat_sales', wanted))).message).toMatch(
			/“Scoter 14” is retired; bring it back under Members first\./
		);
		await retire('kayaks', false);
		expect(await addRows({ db, user: maren }, 'boat_sales', wanted)).toMatchObject({ rows: 1 });
	});
	it('is no sibling or heading for a new one, until it is brought back', async () => {
		await retire('kayaks');
		expect((await refused(addMember({ db, user: maren }, petrel))).message).toMatch(
			/“Kayaks” is retired. Bring it back first\./
		);
		await retire('kayaks', false);
		expect(await addMember({ db, user: maren }, petrel)).toMatchObject({ code: 'petrel-15' });
	});
	it('stays so in the company folder; a folder from before knows none', async () => {
		await retire('scoter-14');
		const stored = await readStored(db);
		const folder = writeCompany(stored);
		expect(readCompany(folder)).toEqual(stored);
		const older = new Map(folder);
		const file = 'dimensions/product.csv';
		older.set(
			file,
			folder
				.get(file)!
				.replace(/^code,name,parent,retired/, 'code,name,parent')
				.replace(/,(yes|no),/g, ',')
		);
		const read = readCompany(older).dimensions.find((d) => d.code === 'product')!;
		expect(read.members.map((m) => m.retired)).not.toContain(true);
		expect(read.members.map((m) => m.attributes)).toEqual(
			stored.dimensions.find((d) => d.code === 'product')!.members.map((m) => m.attributes)
		);
	});
});
