/** What the what-if page is told, how addresses arrange a model, and what a user has chosen. On the demo. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { changeAdjustments } from '../../src/lib/server/changes/adjustments';
import { measured, type Measure } from '../../src/lib/core/analysis/measure';
import { WhatIf } from '../../src/lib/core/analysis/what-if';
import { adjustmentsFrom } from '../../src/lib/core/inputs/adjust';
import { packageFromBytes, packageToBytes } from '../../src/lib/core/scenario/package';
import { planOf, scenarioPackage } from '../../src/lib/server/scenarios/plans';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { savesOf } from '../../src/lib/server/changes/history';
import { readModel } from '../../src/lib/server/models/models';
import { Preferences, preferencesOf, setPreferences } from '../../src/lib/server/platform/preferences';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { ArrangementText } from '../../src/lib/server/platform/schemas';
import { tryAdjustments } from '../../src/lib/server/scenarios/what-if';
import { DEMO, headOf, loaded, totalOf, userOf, readWhatIf } from '../support/company';

let db: Knex;
let maren: User;
beforeEach(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
});
afterEach(() => db.destroy());

describe('the what-if page', () => {
	it('is told what may be adjusted: typed lines with their members, and accounts by department', async () => {
		const view = await readWhatIf({ db, user: maren }, 'dearer-kayaks');
		expect(view.adjustments.map((a) => a.code)).toEqual([
			'kayak-prices',
			'lakes-recover',
			'freight-contract'
		]);
		const of = (block: string) => view.adjustables.find((a) => a.block === block)!;
		expect(of('boat_sales').lines.map((l) => l.code)).toEqual([
			'units',
			'list_price',
			'discount',
			'unit_material'
		]);
		expect(of('boat_sales').dimensions.map((d) => d.code)).toEqual(['product', 'channel', 'region']);
		expect(of('assumptions').dimensions).toEqual([]);
		const codes = of('accounts').lines.map((l) => l.code);
		expect(codes).toContain('5050');
		// Totals and balances take no plan.
		for (const code of ['revenue', '1000']) expect(codes).not.toContain(code);
		expect(of('accounts').dimensions[0].members.map((m) => m.code)).toContain('dealer-sales');
		expect(view.accounts.find((a) => a.code === 'profit')).toMatchObject({ depth: 0, leaf: false });
		expect(view).toMatchObject({ editable: true, reason: '' });
	});
	it('is told of schedules what their columns hold, and by which values rows are told apart', async () => {
		const view = await readWhatIf({ db, user: maren }, 'fy28-budget');
		const staff = view.adjustables.find((a) => a.block === 'staff')!;
		const as = (line: string) => staff.lines.find((l) => l.code === line)?.column;
		expect(['start', 'annual', 'open_post', 'raise'].map(as)).toEqual([
			'date',
			'number',
			'choice',
			undefined
		]);
		for (const line of ['name', 'department', 'pay'])
			expect(staff.lines.map((l) => l.code)).not.toContain(line);
		const trait = (code: string) => staff.dimensions.find((d) => d.code === code)!;
		expect(trait('open_post').members.map((m) => m.code)).toEqual(['yes', 'no']);
		expect(trait('department').members[0]).toMatchObject({ code: 'kelpwick', depth: 0 });
		expect(trait('name').members.length).toBeGreaterThan(20);
	});
	it('leaves out what changes schedules, for who does not see their rows, and counts it', async () => {
		const adjustment = {
			code: 'dearer',
			name: 'Dearer contracts',
			on: true,
			adopted: null,
			steps: [
				{
					operation: 'multiply' as const,
					value: 1.1,
					lines: [{ block: 'contracts', line: 'amount' }],
					where: {}
				},
				{
					operation: 'multiply' as const,
					value: 1.5,
					lines: [{ block: 'boat_sales', line: 'units' }],
					where: {}
				}
			]
		};
		await changeAdjustments({ db, user: maren }, 'dearer-kayaks', { action: 'put', adjustment });
		const oliver = await userOf(db, 'oliver');
		const seen = await readWhatIf({ db, user: oliver }, 'dearer-kayaks');
		expect([seen.kept, seen.adjustments.length]).toEqual([1, 3]);
		for (const { block } of seen.adjustables) expect(block).not.toMatch(/contracts|staff|assets/);
		// The page works with what it is told on what it is sent: figures are those of the plan.
		const parcel = await scenarioPackage({ db, user: oliver }, 'dearer-kayaks');
		expect(new TextDecoder().decode(packageToBytes(parcel))).not.toMatch(/Dearer contracts/);
		const plan = await planOf(db, 'dearer-kayaks');
		const live = new WhatIf(packageFromBytes(packageToBytes(parcel)));
		live.adjust(adjustmentsFrom(seen.adjustments, plan.structure.calendar));
		const measure = { kind: 'account', account: 'profit', department: 'kelpwick' } as const;
		const span = { from: plan.open, to: plan.open + 5 };
		const [effect] = live.effects([measure], span);
		expect(effect.with).toBeCloseTo(measured(plan, measure, span), 4);
		expect(effect.effects).toHaveLength(3);
		expect(seen.effects).toEqual({});
		expect((await readWhatIf({ db, user: maren }, 'dearer-kayaks')).kept).toBe(0);
		const told = (await savesOf({ db, user: oliver }, 'dearer-kayaks')).find((s) => s.kind === 'adjustment');
		expect(told?.changes).toEqual([]);
	});
	it('comes with what each adjustment does, as it is worked out in the browser, and leaves the plan as it was', async () => {
		const plan = await planOf(db, 'dearer-kayaks');
		const before = plan.calculation.results();
		const { effects, adjustments } = await readWhatIf({ db, user: maren }, 'dearer-kayaks');
		const live = new WhatIf(await scenarioPackage({ db, user: maren }, 'dearer-kayaks'));
		const codes = Object.keys(effects);
		expect(codes).toEqual(expect.arrayContaining(['profit', 'revenue']));
		const measures = codes.map((account): Measure => ({ kind: 'account', account, department: 'kelpwick' }));
		const worked = live.effects(measures, { from: plan.open, to: plan.open + 11 });
		expect(Object.values(effects)).toEqual(worked);
		expect(effects.profit.effects.filter((e) => e !== 0)).toHaveLength(adjustments.length);
		expect(plan.calculation.results()).toEqual(before);
		expect(await planOf(db, 'dearer-kayaks')).toBe(plan);
	});
	it('is told what others in their place would do, with nothing kept', async () => {
		const plan = await planOf(db, 'dearer-kayaks');
		const before = plan.calculation.results();
		const { adjustments } = await readWhatIf({ db, user: maren }, 'dearer-kayaks');
		const window = { from: plan.open, to: plan.open + 11 };
		const watched = {
			scenario: 'dearer-kayaks',
			department: 'kelpwick',
			...window,
			money: 'reporting'
		} as const;
		const tried = adjustments.map((a, i) => ({ ...a, on: i !== 0 })).reverse();
		const effects = await tryAdjustments({ db, user: maren }, watched, tried);
		const live = new WhatIf(await scenarioPackage({ db, user: maren }, 'dearer-kayaks'));
		live.adjust(adjustmentsFrom(tried, plan.structure.calendar));
		const measures = Object.keys(effects).map((account): Measure => ({
			kind: 'account',
			account,
			department: 'kelpwick'
		}));
		expect(Object.keys(effects)).toEqual(expect.arrayContaining(['profit', 'revenue']));
		expect(Object.values(effects)).toEqual(live.effects(measures, window));
		// The one that is off does nothing, the others do.
		expect(effects.profit.effects.map((e) => e !== 0)).toEqual([true, true, false]);
		expect(plan.calculation.results()).toEqual(before);
		expect((await planOf(db, 'dearer-kayaks')) === plan).toBe(true);

		const attempt = (name: string, more: Partial<typeof watched> | object, list = tried) =>
			userOf(db, name).then((user) => tryAdjustments({ db, user }, { ...watched, ...more }, list));
		const wrong = {
			...tried[0],
			steps: [{ ...tried[0].steps[0], lines: [{ block: 'boat_sales', line: 'gone' }] }]
		};
		await expect(attempt('maren', {}, [wrong])).rejects.toThrow(/gone/);
		await expect(attempt('maren', { department: 'nowhere' })).rejects.toThrow(/no department “nowhere”/);
		await expect(attempt('maren', { scenario: 'nothing' })).rejects.toThrow(Refusal);
		await expect(attempt('tom', {})).rejects.toThrow(Refusal);
		// Who may not see what schedules hold works with what it comes to; lines that were not adjusted are for the page.
		expect(await attempt('oliver', {})).toEqual({});
		expect(await attempt('oliver', {}, [wrong])).toEqual({});
		const units = {
			...tried[0],
			steps: [{ ...tried[0].steps[0], lines: [{ block: 'boat_sales', line: 'discount' }] }]
		};
		expect(await attempt('maren', {}, [units])).toEqual({});
		const many = Array.from({ length: 41 }, (_, i) => ({ ...tried[0], code: `a${i}`, name: `A${i}` }));
		expect(await attempt('maren', {}, many)).toEqual({});
	});
	it('says why nothing is kept', async () => {
		const reason = async (user: User, scenario: string) => (await readWhatIf({ db, user }, scenario)).reason;
		expect(await reason(await userOf(db, 'oliver'), 'dearer-kayaks')).toMatch(/nothing is kept/);
		expect(await reason(maren, 'fy27-budget')).toMatch(/is locked.*can be tried/);
		await expect(readWhatIf({ db, user: await userOf(db, 'tom') }, 'dearer-kayaks')).rejects.toThrow(Refusal);
	});
});

describe('how an address arranges a model', () => {
	const read = (query: Record<string, string>) => ArrangementText.safeParse(query);
	it('is read, with values of attributes percent-encoded', () => {
		expect(
			read({
				rows: 'line,product',
				across: 'channel',
				lines: 'units',
				where: 'product:kayaks,product.size:10%2C%20long',
				open: 'units,units>product:kayaks',
				find: ' Eider ',
				empty: 'hide'
			}).data
		).toEqual({
			rows: ['line', 'product'],
			across: 'channel',
			lines: ['units'],
			where: { product: 'kayaks', 'product.size': '10, long' },
			open: ['units', 'units>product:kayaks'],
			find: 'eider',
			empty: 'hide'
		});
	});
	it('says what is wrong with it', () => {
		expect(read({ where: 'product:%zz' }).error?.issues[0].message).toMatch(/percent-encoded/);
		expect(read({ empty: 'perhaps' }).success).toBe(false);
	});
	it('leaves out what the model has not, and never loses the lines', async () => {
		const view = (more: Partial<Parameters<typeof readModel>[1]>) =>
			readModel(
				{ db, user: maren },
				{
					scenario: 'fy28-budget',
					model: 'boat_sales',
					from: 2027 * 12 + 3,
					to: 2027 * 12 + 5,
					...more
				}
			);
		const odd = await view({ rows: ['planet', 'product', 'product'], across: 'row', lines: ['nothing'] });
		expect(odd.arrangement).toMatchObject({ rows: ['line', 'product'], across: null, lines: [] });
		const plain = await view({});
		expect(totalOf(headOf(odd, 'units'))).toBe(totalOf(headOf(plain, 'units')));
		// Three months, their quarter, and the window.
		expect(plain.spans.map((s) => s.to - s.from + 1)).toEqual([1, 1, 1, 3, 3]);
		const { dimensions } = plain;
		expect(dimensions[0].attributes.find((a) => a.code === 'size')!.values.length).toBeGreaterThan(1);
	});
});

describe('what a user has chosen', () => {
	it('is theirs alone, and the usual where nothing is', async () => {
		expect(await preferencesOf({ db, user: maren })).toEqual(Preferences.parse({}));
		await setPreferences({ db, user: maren }, { decimal: ',', density: 'dense' });
		await setPreferences({ db, user: maren }, { density: 'roomy' });
		expect(await preferencesOf({ db, user: maren })).toEqual({
			decimal: ',',
			negative: 'minus',
			density: 'roomy'
		});
		expect(await preferencesOf({ db, user: await userOf(db, 'tom') })).toEqual(Preferences.parse({}));
		await db('preference').update({ value: 'odd' });
		expect(await preferencesOf({ db, user: maren })).toEqual(Preferences.parse({}));
	});
});

describe('a long history', () => {
	it('is read fifty saves at a time, none twice and none left out', async () => {
		const at = { scenario: 'dearer-kayaks' };
		await changeAdjustments({ db, user: maren }, at.scenario, {
			action: 'switch',
			code: 'kayak-prices',
			on: false
		});
		// The same again and again, a second after each other.
		const save = await db('journal').where(at).orderBy('id', 'desc').first();
		delete save.id;
		const began = Date.parse(save.at);
		await db('journal').insert(
			Array.from({ length: 54 }, (_, n) => ({
				...save,
				batch: `later-${n}`,
				at: new Date(began + 1000 * (n + 1)).toISOString()
			}))
		);
		const first = await savesOf({ db, user: maren }, 'dearer-kayaks');
		expect(first).toHaveLength(50);
		const rest = await savesOf({ db, user: maren }, 'dearer-kayaks', first.at(-1)!.at);
		expect(rest).toHaveLength(5);
		expect(new Set([...first, ...rest].map((s) => s.batch)).size).toBe(55);
		expect([...first, ...rest].every((s) => s.undoable && s.count === 1)).toBe(true);
	});
});
