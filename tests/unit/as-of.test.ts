/** A scenario as it stood: whatever has been saved since is out of it, to the last bit. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { changeAdjustments } from '../../src/lib/server/changes/adjustments';
import { copyAsItStood } from '../../src/lib/server/changes/as-of';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { saveBasis } from '../../src/lib/server/accounts/department-plan';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { changeModel, createModel, designOf } from '../../src/lib/server/models/design';
import { saveFormula } from '../../src/lib/server/models/models';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { changeScenario } from '../../src/lib/server/scenarios/list';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { getScenario } from '../../src/lib/server/scenarios/scenarios';
import { DEMO, loaded, userOf, typeInModel, typeInPlan } from '../support/company';

const APR27 = 2027 * 12 + 3;
const BUDGET = 'fy28-budget';
let db: Knex;
let maren: User;
beforeEach(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
});
afterEach(() => db.destroy());

/** What a scenario is made of, without its name. */
async function content(scenario: string) {
	const rows = async (table: string, ...drop: string[]) =>
		(await db(table).where({ scenario })).map((r: Record<string, unknown>) =>
			JSON.stringify(Object.entries(r).filter(([k]) => k !== 'scenario' && !drop.includes(k)))
		);
	const all = await Promise.all(['series', 'basis', 'scenario_model', 'adjustment'].map((t) => rows(t)));
	const { first, last, actualsThrough, kind } = await getScenario(db, scenario);
	return { all: all.map((r) => r.sort()), first, last, actualsThrough, kind };
}
async function figures(scenario: string) {
	const { calculation, structure } = await planOf(db, scenario);
	return structure.accounts.all
		.filter((a) => structure.accounts.isLeaf(a.code))
		.map((a) => [a.code, ...calculation.matrix('accounts', a.code).values]);
}
const type = (value: number, before: number | null, period = APR27) =>
	typeInPlan({ db, user: maren }, BUDGET, 'dealer-sales', [{ account: '6240', period, before, value }]);
const newest = async () => (await savesOf({ db, user: maren }, BUDGET))[0].batch;

it('every kind of change since a save is taken out, and nothing that came before', async () => {
	const moments: { batch: string; content: unknown; figures: unknown }[] = [];
	const remember = async () =>
		moments.push({ batch: await newest(), content: await content(BUDGET), figures: await figures(BUDGET) });
	await type(1111, null);
	await remember();
	await type(2222, 1111);
	await type(3333, null, APR27 + 3);
	await remember();
	await saveBasis({ db, user: maren }, BUDGET, 'dealer-sales', '6240', { kind: 'run-rate', months: 4 });
	await remember();
	await saveFormula(
		{ db, user: maren },
		{
			scenario: BUDGET,
			model: 'boat_sales',
			line: 'revenue',
			formula: 'units * price * 0.9',
			also: []
		}
	);
	await remember();
	await changeAdjustments({ db, user: maren }, BUDGET, {
		action: 'put',
		adjustment: {
			code: 'dearer',
			name: 'Dearer',
			on: true,
			adopted: null,
			steps: [
				{ operation: 'multiply', value: 1.1, lines: [{ block: 'boat_sales', line: 'list_price' }], where: {} }
			]
		}
	});
	await remember();
	const { definition, version } = await designOf({ db, user: maren }, BUDGET, 'dealer_visits');
	const lines = definition.lines.map((l) => (l.code === 'order_size' ? { ...l, formula: '4' } : l));
	await changeModel(
		{ db, user: maren },
		{
			scenarios: [BUDGET],
			model: 'dealer_visits',
			version,
			definition: { ...definition, lines },
			drop: true
		}
	);
	await remember();
	await undoSave({ db, user: maren }, BUDGET, moments.at(-1)!.batch);
	await remember();
	const { last } = await getScenario(db, BUDGET);
	await changeScenario({ db, user: maren }, BUDGET, { last: last + 12, description: 'Longer.' });
	await typeInModel({ db, user: maren }, BUDGET, 'harbour_club', [
		{ line: 'joiners', row: '', period: last + 3, before: null, value: 12 }
	]).catch((e: unknown) => {
		// What is there by the carrying on counts as seen.
		if (!(e instanceof Refusal)) throw e;
	});

	for (const moment of moments) {
		const code = await copyAsItStood({ db, user: maren }, BUDGET, moment.batch);
		expect(await content(code)).toEqual(moment.content);
		expect(await figures(code)).toEqual(moment.figures);
		expect(await getScenario(db, code)).toMatchObject({
			locked: true,
			folder: 'As it stood',
			origin: BUDGET
		});
	}
	expect((await getScenario(db, BUDGET)).last).toBe(last + 12);
});

it('figures that came along with a copied model are not there before it was', async () => {
	await type(500, null);
	const [batch, then] = [await newest(), await content(BUDGET)];
	const copied = { kind: 'copy' as const, model: 'boat_sales', withValues: true };
	const rows = { kind: 'like' as const, model: 'boat_sales' };
	await createModel(
		{ db, user: maren },
		{
			scenarios: [BUDGET],
			name: 'Second sales',
			description: '',
			from: copied,
			rows
		}
	);
	expect(await content(BUDGET)).not.toEqual(then);
	expect(await content(await copyAsItStood({ db, user: maren }, BUDGET, batch))).toEqual(then);
});

it('a cell that was written twice in one save gets back what stood there before the first', async () => {
	await type(500, null);
	const { subject, batch, user } = await db('journal')
		.where({ scenario: BUDGET })
		.orderBy('id', 'desc')
		.first();
	await type(600, 500);
	// The two as one save, as a change of structure may write them.
	await db('journal').where({ scenario: BUDGET, subject, user }).update({ batch });
	await undoSave({ db, user: maren }, BUDGET, batch);
	expect(
		await db('series').where({ scenario: BUDGET, block: 'accounts', line: '6240', row: 'dealer-sales' })
	).toEqual([]);
});

it('is refused for a save that is not there and for those who are no analysts', async () => {
	await type(1, null);
	const refused = (user: User, batch: string) =>
		copyAsItStood({ db, user }, BUDGET, batch).then(
			() => 0,
			(e: Refusal) => e.status
		);
	expect(await refused(maren, 'none')).toBe(404);
	expect(await refused(await userOf(db, 'oliver'), await newest())).toBe(403);
});
