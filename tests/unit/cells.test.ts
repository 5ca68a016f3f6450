/** Typed cells in the database: random edits by two people against a plain map. */
import * as fc from 'fast-check';
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readSeries } from '../../src/lib/server/company/subjects/scenario/values';
import { newBatch } from '../../src/lib/server/company/journal';
import { writeCells } from '../../src/lib/server/scenarios/cells';
import type { CellEdit } from '../../src/lib/core/inputs/cell';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { companyState } from '../../src/lib/server/company/structure';
import { loaded, PRAXIS } from '../support/company';

const SCENARIO = 'f2';
const START = 2026 * 12;
let db: Knex;
beforeAll(async () => {
	db = await loaded(PRAXIS);
	await db('series').where({ scenario: SCENARIO }).delete();
});
afterAll(() => db.destroy());

const write = (edits: CellEdit[], user: string) =>
	db.transaction((trx) => writeCells(trx, SCENARIO, edits, user, { kind: 'plan', batch: newBatch() }));
const stored = async () => {
	const cells = new Map<string, number>();
	for (const s of await readSeries(db, SCENARIO))
		s.values.forEach((v, i) => {
			if (!Number.isNaN(v)) cells.set(`${s.line} ${s.row} ${s.first + i}`, v);
		});
	return cells;
};

describe('random edits', () => {
	const place = fc.record({
		line: fc.constantFrom('wages', 'rent'),
		row: fc.constantFrom('labor', 'office'),
		period: fc.integer({ min: START, max: START + 8 })
	});
	const value = fc.option(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { freq: 4 });
	const batch = fc.uniqueArray(fc.tuple(place, value), {
		minLength: 1,
		maxLength: 6,
		selector: ([p]) => `${p.line} ${p.row} ${p.period}`
	});

	it('leave exactly what was typed, count what changed, and journal an unbroken chain', async () => {
		const truth = new Map<string, number>();
		await fc.assert(
			fc.asyncProperty(batch, fc.constantFrom('ana', 'urs'), async (list, user) => {
				const edits = list.map(([p, v]): CellEdit => ({
					block: 'accounts',
					...p,
					before: truth.get(`${p.line} ${p.row} ${p.period}`) ?? null,
					value: v
				}));
				const changing = edits.filter((e) => e.before !== e.value).length;
				expect(await write(edits, user)).toBe(changing);
				for (const [p, v] of list) {
					const key = `${p.line} ${p.row} ${p.period}`;
					if (v === null) truth.delete(key);
					else truth.set(key, v);
				}
				expect(await stored()).toEqual(truth);
			}),
			{ numRuns: 60 }
		);
		// Each entry begins where the one before it on the same cell ended.
		const last = new Map<string, string>();
		for (const j of await db('journal').where({ kind: 'plan' }).orderBy('id')) {
			expect(j.before).toBe(last.get(j.subject) ?? '');
			expect(j.after).not.toBe(j.before);
			last.set(j.subject, j.after);
		}
		expect([...last.values()].filter((v) => v !== '').length).toBe(truth.size);
	});

	it('made blind are refused whole, with every cell that differs', async () => {
		const before = await stored();
		const journal = (await db('journal').count({ n: '*' }).first())!.n;
		const somewhere = [...before.keys()].slice(0, 3).map((key): CellEdit => {
			const [line, row, period] = key.split(' ');
			return { block: 'accounts', line, row, period: Number(period), before: 123456789, value: 1 };
		});
		const free: CellEdit = {
			block: 'accounts',
			line: 'supplies',
			row: 'office',
			period: START,
			before: null,
			value: 7
		};
		const error = await write([free, ...somewhere], 'urs').catch((e: unknown) => e);
		expect(error).toBeInstanceOf(Refusal);
		expect((error as Refusal).status).toBe(409);
		expect((error as Refusal).data).toHaveLength(somewhere.length);
		expect(await stored()).toEqual(before);
		expect((await db('journal').count({ n: '*' }).first())!.n).toBe(journal);
	});

	it('raise the scenario’s revision only when something changed', async () => {
		const revision = async () => (await db('scenario').where({ code: SCENARIO }).first('revision')).revision;
		const start = await revision();
		const edit: CellEdit = {
			block: 'accounts',
			line: 'supplies',
			row: 'labor',
			period: START,
			before: null,
			value: 7
		};
		await write([edit], 'ana');
		expect(await revision()).toBe(start + 1);
		expect(await write([{ ...edit, before: 7 }], 'ana')).toBe(0);
		expect(await revision()).toBe(start + 1);
		await companyState(db);
	});
});
