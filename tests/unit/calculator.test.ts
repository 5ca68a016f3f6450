/** Calculations in other threads: the same bits as here, called off when asked, and nobody kept waiting. */
import type { Knex } from 'knex';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { buildScenario, calculateScenario } from '../../src/lib/core/scenario/assemble';
import {
	packageFromBytes,
	packageToBytes,
	unpackScenario,
	type ScenarioPackage
} from '../../src/lib/core/scenario/package';
import { Preview } from '../../src/lib/core/views/preview';
import type { Matrix } from '../../src/lib/core/engine/values';
import { sharesCode } from '../../src/lib/core/blocks/schedule/schema';
import type { Plan } from '../../src/lib/core/scenario/plan';
import { CalledOff } from '../../src/lib/core/thread';
import { calculateElsewhere } from '../../src/lib/server/platform/calculator/calculator';
import { readModel, saveFormula } from '../../src/lib/server/models/models';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { planOf, scenarioPackage } from '../../src/lib/server/scenarios/plans';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { contentOf, DEMO, loaded, userOf, rowsUnder, typeInModel } from '../support/company';
import type { ViewRow } from '../../src/lib/core/views/model-view';

const FORECAST = 'fy27-forecast-6-6';
const NOV26 = 2026 * 12 + 10;
let db: Knex;
let maren: User;
beforeAll(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
});
afterAll(() => db.destroy());

const bits = (plan: Plan) =>
	plan.calculation
		.results()
		.map(({ values, marks }) => [
			Buffer.from(values.buffer).toString('base64'),
			marks && Buffer.from(marks).toString('base64')
		]);

const sameBits = (a: Matrix, b: Matrix) =>
	Buffer.from(a.values.slice().buffer).equals(Buffer.from(b.values.slice().buffer)) &&
	String(a.marks) === String(b.marks);

/** A parcel with one line so slow that it takes minutes. */
function slow(parcel: ScenarioPackage): ScenarioPackage {
	const models = parcel.data.models.map((m) =>
		m.definition.code !== 'boat_sales'
			? m
			: {
					...m,
					definition: {
						...m.definition,
						lines: [...m.definition.lines, { ...m.definition.lines[0], code: 'slow', formula: SLOW }]
					}
				}
	);
	return { ...parcel, data: { ...parcel.data, models } };
}
const SLOW = Array(20).fill('xirr(series(units - 5), series(period_end()))').join(' + ');

describe('a scenario calculated elsewhere', () => {
	it('has the same bits in another thread, and after a journey as bytes', async () => {
		const parcel = await scenarioPackage({ db, user: maren }, FORECAST);
		const { structure, data } = unpackScenario(parcel);
		const here = bits(calculateScenario(structure, data));
		const there = buildScenario(structure, data);
		there.calculation.adopt(await calculateElsewhere(parcel));
		expect(bits(there)).toEqual(here);
		const read = unpackScenario(packageFromBytes(packageToBytes(parcel)));
		expect(bits(calculateScenario(read.structure, read.data))).toEqual(here);
		expect(bits(await planOf(db, FORECAST))).toEqual(here);
	});
	it('is, of one model or schedule, what it is of the whole, in every scenario', async () => {
		const smaller: boolean[] = [];
		const scenarios = await db('scenario').whereNull('deleted').pluck('code');
		for (const scenario of scenarios) {
			const whole = await planOf(db, scenario);
			const size = packageToBytes(await scenarioPackage({ db, user: maren }, scenario)).byteLength;
			for (const model of [...whole.models.keys(), ...[...whole.schedules.keys()].map(sharesCode)]) {
				const bytes = packageToBytes(await scenarioPackage({ db, user: maren }, scenario, model));
				const { structure, data } = unpackScenario(packageFromBytes(bytes));
				const { calculation } = calculateScenario(structure, data);
				const blocks = data.part ?? [...whole.blocks.keys()];
				expect(blocks).toContain(model);
				for (const block of blocks)
					for (const { code } of whole.calculation.block(block).lines) {
						const [own, there] = [whole.calculation, calculation].map((c) => c.matrix(block, code));
						expect(sameBits(own, there), `${scenario} ${block}.${code}`).toBe(true);
					}
				smaller.push(bytes.byteLength < size / 2);
			}
		}
		// Else the test would say nothing of parts.
		expect(smaller.filter(Boolean).length).toBeGreaterThan(scenarios.length);
		await expect(scenarioPackage({ db, user: maren }, FORECAST, 'none')).rejects.toMatchObject({
			status: 404
		});
	});
	it('is refused with model and line when it cannot be calculated', async () => {
		const parcel = await scenarioPackage({ db, user: maren }, FORECAST);
		const [model] = parcel.data.models;
		const broken = {
			...model,
			definition: { ...model.definition, lines: [{ ...model.definition.lines[0], formula: 'gone' }] }
		};
		const answer = calculateElsewhere({ ...parcel, data: { ...parcel.data, models: [broken] } });
		await expect(answer).rejects.toMatchObject({ block: 'assumptions', line: 'price_rise' });
	});
	it('is called off, or ended when it takes too long, and the next one is calculated', async () => {
		const parcel = await scenarioPackage({ db, user: maren }, FORECAST);
		const controller = new AbortController();
		const long = calculateElsewhere(slow(parcel), controller.signal);
		setTimeout(() => controller.abort(), 300);
		await expect(long).rejects.toMatchObject({ reason: 'called-off' });
		await expect(calculateElsewhere(slow(parcel), undefined, 200)).rejects.toBeInstanceOf(CalledOff);
		await expect(calculateElsewhere(parcel)).resolves.toHaveLength(
			buildScenario(unpackScenario(parcel).structure, parcel.data).calculation.network.lines.length
		);
	});
});

describe('a model that takes long', () => {
	let own: Knex;
	afterEach(() => own.destroy());

	it('is not saved, keeps the server answering, and changes nothing', async () => {
		own = await loaded(DEMO);
		const before = await contentOf(own);
		let ticks = 0;
		const clock = setInterval(() => ticks++, 5);
		const error = await saveFormula(
			{ db: own, user: maren },
			{
				scenario: FORECAST,
				model: 'boat_sales',
				line: 'price',
				formula: `list_price + 0 * (${SLOW})`,
				also: []
			}
		).catch((e: unknown) => e);
		clearInterval(clock);
		expect(error).toBeInstanceOf(Refusal);
		expect((error as Refusal).message).toContain('would take longer than a second');
		// Others were served while it was tried.
		expect(ticks).toBeGreaterThan(20);
		expect(await contentOf(own)).toBe(before);
	});
	it('that is already there is calculated in the background, and whoever asks is told so', async () => {
		own = await loaded(DEMO);
		const content = JSON.parse(
			(await own('definition').where('content', 'like', '%"code":"boat_sales"%').first()).content
		);
		content.lines.push({ ...content.lines[0], code: 'slow', label: 'Slow', formula: SLOW });
		await own('definition')
			.where('content', 'like', '%"code":"boat_sales"%')
			.update({ content: JSON.stringify(content) });
		const asked = [planOf(own, FORECAST), planOf(own, FORECAST)].map((p) => p.catch((e: Refusal) => e));
		for (const answer of await Promise.all(asked)) {
			expect(answer).toMatchObject({ status: 503 });
			expect((answer as Refusal).message).toContain('is being calculated');
		}
	});
});

describe('what is typed and not saved', () => {
	it('gives in the preview what it gives when it is saved, to the bit, and leaves no trace when it is taken back', async () => {
		const own = await loaded(DEMO);
		const preview = new Preview(
			packageFromBytes(
				packageToBytes(await scenarioPackage({ db: own, user: maren }, FORECAST, 'boat_sales'))
			)
		);
		const wanted = { model: 'boat_sales', open: ['units', 'revenue'] };
		const window = { from: NOV26, to: NOV26 + 4 };
		const saved = () => readModel({ db: own, user: maren }, { ...wanted, ...window, scenario: FORECAST });
		const query = { ...wanted, spans: (await saved()).spans };
		const [first, second] = rowsUnder(await saved(), 'units');
		const rowOf = (r: ViewRow) => r.targets[0]!.row!;
		const edits = [
			{ block: 'boat_sales', line: 'units', row: rowOf(first), period: NOV26, value: 17 },
			{ block: 'boat_sales', line: 'units', row: rowOf(second), period: NOV26 + 2, value: null }
		];
		const before = await saved();
		expect(preview.figures([], query).rows).toEqual(before.rows);
		preview.figures([{ ...edits[0], value: 99 }], query);
		const typed = preview.figures(edits, query);
		await typeInModel(
			{ db: own, user: maren },
			FORECAST,
			'boat_sales',
			edits.map((e, i) => ({ ...e, before: [first, second][i].cells[e.period - NOV26] as number }))
		);
		const after = await saved();
		expect(typed.rows).toEqual(after.rows);
		expect(typed.rows).not.toEqual(before.rows);
		expect(preview.figures([], query).rows).toEqual(before.rows);
		await own.destroy();
	});
	it('tells only the rows that change, also under adjustments that lie on top', async () => {
		const own = await loaded(DEMO);
		const preview = new Preview(
			packageFromBytes(
				packageToBytes(await scenarioPackage({ db: own, user: maren }, 'dearer-kayaks', 'boat_sales'))
			)
		);
		const wanted = { model: 'boat_sales', open: ['list_price'], where: { product: 'kayaks' } };
		const MAR27 = 2027 * 12 + 2;
		const view = await readModel(
			{ db: own, user: maren },
			{
				...wanted,
				scenario: 'dearer-kayaks',
				from: MAR27,
				to: MAR27
			}
		);
		const query = { ...wanted, spans: view.spans };
		const saved = preview.figures([], query);
		const [row] = rowsUnder(view, 'list_price');
		const edit = {
			block: 'boat_sales',
			line: 'list_price',
			row: row.targets[0]!.row!,
			period: MAR27,
			value: 1000
		};
		const { rows } = preview.changes([edit], query, saved);
		const keys = rows.map((r) => r.key);
		// The price, what is made of it, and nothing of units or other rows.
		expect(keys).toEqual(expect.arrayContaining([row.key, 'list_price', 'price', 'revenue', 'margin']));
		expect(keys).not.toContain('units');
		expect(keys.filter((k) => k.startsWith('list_price@'))).toEqual([row.key]);
		// The adjustment raises what is typed by 5 %.
		const changed = rows.find((r) => r.key === row.key)!;
		expect(changed.cells[0]).toBeCloseTo(1050, 9);
		expect(changed.typed![0]).toBe(1000);
		expect(preview.changes([], query, saved).rows).toEqual([]);
		await own.destroy();
	});
});
