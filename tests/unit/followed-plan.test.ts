/** A calculated plan follows what is saved, to the same bits as one that is made anew. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ACCOUNTS_BLOCK } from '../../src/lib/core/engine/spec';
import { rowKey } from '../../src/lib/core/engine/row-key';
import { typedLine } from '../../src/lib/core/blocks/accounts/lines';
import type { Plan } from '../../src/lib/core/scenario/plan';
import { randomFrom } from '../../src/lib/core/analysis/random';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { writeCells } from '../../src/lib/server/scenarios/cells';
import type { CellEdit } from '../../src/lib/core/inputs/cell';
import { openDatabase, serialize } from '../../src/lib/server/platform/db/connect';
import { saveBasis } from '../../src/lib/server/accounts/department-plan';
import { newBatch } from '../../src/lib/server/company/journal';
import { dataOf, planOf } from '../../src/lib/server/scenarios/plans';
import { saveCells } from '../../src/lib/server/changes/save-cells';
import { writableScenario } from '../../src/lib/server/scenarios/scenarios';
import { DEMO, loaded } from '../support/company';

const BUDGET = 'fy28-budget';
const maren: User = {
	email: 'maren.holt@kelpwick.example',
	name: 'Maren Holt',
	role: 'analyst',
	pay: true,
	departments: ['kelpwick']
};

describe('a plan after saves', () => {
	let db: Knex;
	beforeEach(async () => {
		db = await loaded(DEMO);
	});
	afterEach(() => db.destroy());

	/** What a server that has just started would calculate. */
	async function madeAnew<T>(read: (db: Knex) => Promise<T>): Promise<T> {
		const other = await openDatabase(await serialize(db));
		try {
			return await read(other);
		} finally {
			await other.destroy();
		}
	}
	/** Every value, its mark and where it stands. */
	const bits = ({ calculation }: Plan) =>
		calculation
			.results()
			.map(({ values, marks }) => [
				Buffer.from(values.buffer).toString('base64'),
				marks?.some((m) => m !== 0) ? Buffer.from(marks).toString('base64') : ''
			]);
	const series = async (db: Knex) =>
		new Map((await dataOf(db, BUDGET)).series.map((s) => [[s.block, s.line, s.row].join('/'), s]));

	/** Places that can be typed: inputs of driver models, and accounts of departments that are still planning. */
	function places(plan: Plan): Omit<CellEdit, 'before' | 'value'>[] {
		const { calculation } = plan;
		const period = plan.open;
		const lines = [...plan.models.values()].flatMap(({ definition }) =>
			definition.lines
				.filter((l) => l.formula === undefined && !l.scoped?.length)
				.flatMap((l) =>
					calculation
						.block(definition.code)
						.rows.map((row) => ({ block: definition.code, line: l.code, row: rowKey(row), period }))
				)
		);
		const accounts = ['rigging', 'baltic-sales'].flatMap((row) =>
			plan.structure.accounts.all
				.filter((a) => calculation.has(ACCOUNTS_BLOCK, typedLine(a.code)))
				.filter((a) => plan.accounts.origin(a.code, row).kind === 'basis')
				.map((a) => ({ block: ACCOUNTS_BLOCK, line: a.code, row, period }))
		);
		return [...lines, ...accounts];
	}
	/** What is stored in a cell. */
	async function stored(c: Omit<CellEdit, 'before' | 'value'>): Promise<number | null> {
		const own = (await series(db)).get([c.block, c.line, c.row].join('/'));
		const value = own?.values[c.period - own.first] ?? NaN;
		return Number.isNaN(value) ? null : value;
	}
	async function save(cells: Omit<CellEdit, 'before'>[]) {
		const edits: CellEdit[] = [];
		for (const c of cells) edits.push({ ...c, before: await stored(c) });
		await db.transaction((trx) =>
			saveCells({ db: trx, user: maren }, BUDGET, edits, { kind: 'driver', batch: newBatch() })
		);
	}

	it('is the same plan with the cells in it, whatever is typed, taken away and typed again', async () => {
		const plan = await planOf(db, BUDGET);
		const open = places(plan);
		const random = randomFrom(19);
		const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)];
		for (let round = 0; round < 6; round++) {
			const cells = new Map<string, Omit<CellEdit, 'before'>>();
			for (let i = 0; i < 5; i++) {
				const at = { ...pick(open), period: plan.open + Math.floor(random() * 12) };
				const value = random() < 0.3 ? null : Math.round(random() * 1e6) / 100;
				cells.set(JSON.stringify(at), { ...at, value });
			}
			await save([...cells.values()]);
			// Now and then several saves lie between two who look.
			if (round % 3 === 1) continue;
			expect(await planOf(db, BUDGET)).toBe(plan);
			expect(bits(plan)).toEqual(bits(await madeAnew((other) => planOf(other, BUDGET))));
			const [own, anew] = [await series(db), await madeAnew(series)];
			expect([...own.keys()].sort()).toEqual([...anew.keys()].sort());
			for (const [key, s] of anew) expect(own.get(key), key).toEqual(s);
		}
	});

	it('is what those who rest on it are made from anew', async () => {
		await db('scenario').insert({
			...(await db('scenario').where({ code: BUDGET }).first()),
			code: 'after',
			name: 'After',
			follows: BUDGET,
			position: 99,
			first: 24339,
			last: 24344,
			actuals_through: null
		});
		const history = async (of: Knex) => {
			const { accounts, first } = (await dataOf(of, 'after')).history;
			return [...accounts].map(([code, m]) => [code, first, [...m.values]]);
		};
		await history(db);
		const plan = await planOf(db, BUDGET);
		const cell = places(plan).find((p) => p.block === ACCOUNTS_BLOCK && p.row === 'rigging')!;
		await save([{ ...cell, period: plan.open + 3, value: 4321 }]);
		expect(await history(db)).toEqual(await madeAnew(history));
	});

	it('is made anew where anything but cells has changed', async () => {
		const plan = await planOf(db, BUDGET);
		const { line } = places(plan).find((p) => p.block === ACCOUNTS_BLOCK && p.row === 'rigging')!;
		await saveBasis({ db, user: maren }, BUDGET, 'rigging', line, { kind: 'last-year', percent: 0.1 });
		const now = await planOf(db, BUDGET);
		expect(now).not.toBe(plan);
		expect(bits(now)).toEqual(bits(await madeAnew((other) => planOf(other, BUDGET))));
	});

	it('knows nothing of a save that is taken back', async () => {
		const plan = await planOf(db, BUDGET);
		const before = bits(plan);
		const cell = places(plan)[0];
		const edit = { ...cell, before: await stored(cell), value: 77 };
		const as = { kind: 'driver', batch: newBatch() };
		await expect(
			db.transaction(async (trx) => {
				await writeCells(trx, BUDGET, [edit], maren.email, as);
				throw new Error('taken back');
			})
		).rejects.toThrow('taken back');
		expect(await planOf(db, BUDGET)).toBe(plan);
		expect(bits(plan)).toEqual(before);
		// Another save then comes to the same revision.
		const { revision } = await writableScenario(db, BUDGET);
		await save([{ ...places(plan)[1], value: 55 }]);
		expect((await writableScenario(db, BUDGET)).revision).toBe(revision + 1);
		expect(bits(await planOf(db, BUDGET))).toEqual(bits(await madeAnew((other) => planOf(other, BUDGET))));
	});
});
