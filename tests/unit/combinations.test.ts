/** Combination rules on the demo: what is written under a blocked combination is refused at every door. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { CombinationRule } from '../../src/lib/core/inputs/schema';
import { adoptAdjustments, changeAdjustments } from '../../src/lib/server/changes/adjustments';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import {
	putRule,
	readCombinationRules,
	removeRule,
	switchRule,
	tryRule
} from '../../src/lib/server/models/combinations';
import { previewFeed } from '../../src/lib/server/ledger/feed';
import { addRows } from '../../src/lib/server/models/rows';
import { readModel } from '../../src/lib/server/models/models';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { contentOf, DEMO, headOf, loaded, totalOf, userOf, typeInModel } from '../support/company';

const APR27 = 2027 * 12 + 3;
const BUDGET = 'fy28-budget';
const ROW = 'scoter-16|dealer|islands';
let db: Knex;
let maren: User;

beforeEach(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
});
afterEach(() => db.destroy());

const refusal = (work: Promise<unknown>) =>
	work.then(
		() => {
			throw new Error('It was not refused.');
		},
		(e: unknown) => {
			if (!(e instanceof Refusal)) throw e;
			return e;
		}
	);
const model = () =>
	readModel(
		{ db, user: maren },
		{
			scenario: BUDGET,
			model: 'boat_sales',
			from: APR27,
			to: APR27 + 11,
			open: ['units']
		}
	);
const unitsAt = async (row: string) => {
	const found = (await model()).rows.find((r) => r.targets[0]?.line === 'units' && r.targets[0].row === row)!;
	return found.cells[0] as number | null;
};
const type = (value: number | null, before: number | null) =>
	typeInModel({ db, user: maren }, BUDGET, 'boat_sales', [
		{ line: 'units', row: ROW, period: APR27, before, value }
	]);

describe('a rule that is switched on', () => {
	it('changes no figure, refuses what is typed, and lets what is there be taken out', async () => {
		const before = totalOf(headOf(await model(), 'revenue'));
		const had = await unitsAt(ROW);
		expect(had).toBeGreaterThan(0);
		await switchRule({ db, user: maren }, 'islands-light', true);
		const after = await model();
		expect(totalOf(headOf(after, 'revenue'))).toBe(before);
		expect(after.blocked[ROW]).toBe('Islands: no touring boats');
		expect(after.blocked['scoter-16|dealer|lakes']).toBeUndefined();

		const content = await contentOf(db);
		const refused = await refusal(type(9, had));
		expect(refused.status).toBe(422);
		expect(refused.message).toMatch(/Scoter 16 · Dealer · Islands.*“Islands: no touring boats”/);
		expect(await contentOf(db)).toBe(content);

		expect(await type(null, had)).toBe(1);
		expect(await unitsAt(ROW)).toBeNull();
		await switchRule({ db, user: maren }, 'islands-light', false);
		expect(await type(had, null)).toBe(1);
		expect(totalOf(headOf(await model(), 'revenue'))).toBe(before);
	});
	it('lists rows and data under it by scenario, and ledger entries, whether on or off', async () => {
		const off = (await readCombinationRules({ db, user: maren })).find(
			(r) => r.rule.code === 'islands-light'
		)!;
		const sales = off.effects.find((e) => e.model === 'boat_sales')!;
		const rows = (await db('model_row').where({ model: 'boat_sales' }).pluck('row')) as string[];
		const under = rows.filter((r) => /^(scoter-16|plover-tour)\|.*\|islands$/.test(r));
		expect(sales.blocked).toBe(under.length);
		expect(new Set(sales.data.map((d) => d.row))).toEqual(new Set(under));
		const budget = sales.data.filter((d) => d.scenario === BUDGET && d.row === ROW);
		const cells = (await db('series').where({ scenario: BUDGET, row: ROW }).select('data')) as {
			data: Buffer;
		}[];
		const count = cells.reduce((n, c) => {
			const values = new Float64Array(new Uint8Array(c.data).buffer);
			return n + values.filter((v) => !Number.isNaN(v)).length;
		}, 0);
		expect(budget).toEqual([expect.objectContaining({ cells: count })]);
		const entries = (await db('ledger_entry').whereNot({ tags: '' }).pluck('tags')) as string[];
		expect(off.entries).toBe(
			entries.filter((t) => /product=(scoter-16|plover-tour)/.test(t) && /region=islands/.test(t)).length
		);
		expect(off.entries).toBeGreaterThan(0);
	});
	it('refuses rows of ledger files, at their place', async () => {
		const content =
			'date,ledger_account,department,amount,product,channel\n' +
			'2026-10-05,400010,direct-web,-500.00,tern-9,web\n' +
			'2026-10-05,400010,direct-web,-500.00,eider-10,web\n';
		const found = await previewFeed({ db, user: maren }, 'x.csv', content, null, {});
		expect(found.faults).toEqual([
			{
				file: 'x.csv',
				row: 2,
				column: 'product',
				message: expect.stringMatching(/“Dinghies are not sold on the web”/)
			}
		]);
	});
	it('is left out of a set of rows when that is asked for, and said', async () => {
		const rows = async () => (await db('model_row').where({ model: 'boat_sales' })).length;
		const before = await rows();
		const answer = await addRows(
			{ db, user: maren },
			'boat_sales',
			[
				['tern-9', 'web', 'south'],
				['tern-9', 'direct', 'baltic'],
				['eider-10', 'dealer', 'lakes']
			],
			true
		);
		expect(answer).toEqual({
			rows: 0,
			blocked: 2,
			rules: ['Dinghies are not sold on the web', 'Direct sales stay in Britain']
		});
		expect(await rows()).toBe(before);
		const mixed = [
			['tern-9', 'web', 'south'],
			['sail-set', 'direct', 'islands']
		];
		expect(await addRows({ db, user: maren }, 'boat_sales', mixed, true)).toMatchObject({
			rows: 1,
			blocked: 1
		});
		expect(await rows()).toBe(before + 1);
	});
	it('refuses rows of models and what adjustments would write', async () => {
		expect(
			(await refusal(addRows({ db, user: maren }, 'boat_sales', [['tern-9', 'web', 'south']]))).message
		).toMatch(/“Dinghies are not sold on the web”/);
		await changeAdjustments({ db, user: maren }, BUDGET, {
			action: 'put',
			adjustment: {
				code: 'more',
				name: 'More',
				on: true,
				adopted: null,
				steps: [
					{
						operation: 'multiply',
						value: 2,
						lines: [{ block: 'boat_sales', line: 'units' }],
						where: { product: 'scoter-16' }
					}
				]
			}
		});
		await switchRule({ db, user: maren }, 'islands-light', true);
		const content = await contentOf(db);
		expect((await refusal(adoptAdjustments({ db, user: maren }, BUDGET, ['more']))).message).toMatch(
			/Islands/
		);
		expect(await contentOf(db)).toBe(content);
	});
});

describe('rules', () => {
	const rule = (more: Partial<CombinationRule>): CombinationRule => ({
		code: 'test',
		name: 'Test',
		on: true,
		effect: 'block',
		lead: { dimension: 'product', under: ['kayaks'], except: ['eider-10'] },
		others: [{ dimension: 'region', under: ['baltic'], except: [] }],
		...more
	});
	const blocked = async (r: CombinationRule) => {
		await putRule({ db, user: maren }, r);
		const rows = Object.keys((await model()).blocked);
		await removeRule({ db, user: maren }, 'test');
		return rows;
	};
	it('take subtrees and leave exceptions, block and allow', async () => {
		const all = (await db('model_row').where({ model: 'boat_sales' }).pluck('row')) as string[];
		const of = (products: RegExp, test: (region: string) => boolean) =>
			all.filter((r) => products.test(r) && test(r.split('|')[2])).sort();
		const kayaks = /^(eider-12|scoter)/;
		expect((await blocked(rule({}))).sort()).toEqual(of(kayaks, (r) => r === 'baltic'));
		expect((await blocked(rule({ effect: 'allow' }))).sort()).toEqual(of(kayaks, (r) => r !== 'baltic'));
		expect(await blocked(rule({ on: false }))).toEqual([]);
		const two = rule({
			others: [
				{ dimension: 'region', under: ['lakes'], except: [] },
				{ dimension: 'channel', under: ['web'], except: [] }
			]
		});
		expect((await blocked(two)).sort()).toEqual(
			of(kayaks, (r) => r === 'lakes').filter((r) => r.includes('|web|'))
		);
		// A model without one of its dimensions is none of its business.
		expect((await tryRule({ db, user: maren }, rule({}))).effects.map((e) => e.model)).toEqual([
			'boat_sales'
		]);
	});
	it('are refused for members that are not there and a dimension named twice', async () => {
		const bad = [
			rule({ lead: { dimension: 'product', under: ['canoes'], except: [] } }),
			rule({ others: [{ dimension: 'product', under: ['boards'], except: [] }] }),
			rule({ lead: { dimension: 'size', under: ['x'], except: [] } })
		];
		const words = [];
		for (const r of bad) words.push((await refusal(putRule({ db, user: maren }, r))).message);
		expect(words).toEqual([
			'“canoes” is no member of product.',
			'“product” is named twice; a rule speaks of different dimensions.',
			'There is no dimension “size”.'
		]);
		expect(
			(await refusal(putRule({ db, user: maren }, rule({ name: 'Direct sales stay in Britain' })))).status
		).toBe(409);
	});
	it('are changed by analysts alone', async () => {
		const tom = await userOf(db, 'tom');
		expect((await refusal(switchRule({ db, user: tom }, 'islands-light', true))).status).toBe(403);
		expect((await refusal(readCombinationRules({ db, user: tom }))).status).toBe(403);
	});
});
