/** Rows of a schedule through the server: saved, journalled, taken back, and refused at their place. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RowChange } from '../../src/lib/core/blocks/schedule/row-changes';
import { ACCOUNTS_BLOCK } from '../../src/lib/core/engine/spec';
import { copyAsItStood } from '../../src/lib/server/changes/as-of';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { readCompany, readStored, storeCompany, writeCompany } from '../../src/lib/server/company/subjects';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { saveRows } from '../../src/lib/server/schedules/rows';
import { refusedIn, userOf } from '../support/company';
import { F2, rentalFiles } from '../support/rentals';

let db: Knex;
let ana: User;
beforeEach(async () => {
	db = await openDatabase(':memory:');
	await storeCompany(db, readCompany(rentalFiles()));
	ana = await userOf(db, 'ana');
});
afterEach(() => db.destroy());

const period = (month: string) => Number(month.slice(0, 4)) * 12 + Number(month.slice(5)) - 1;
const change = (
	changes: RowChange[],
	edits: { line: string; row: string; month: string; value: number }[] = []
) =>
	saveRows(
		{ db, user: ana },
		{
			scenario: F2,
			schedule: 'rentals',
			changes,
			edits: edits.map(({ line, row, month, value }) => ({
				block: line === 'share' ? 'rentals_shares' : 'rentals',
				line,
				row,
				period: period(month),
				before: null,
				value
			}))
		}
	);
const set = (id: string, column: string, before: string | number | boolean | null, value: typeof before) =>
	({ kind: 'set', id, column, before, value }) satisfies RowChange;
const rent = async (department: string, month: string, scenario = F2) => {
	const plan = await planOf(db, scenario);
	return plan.calculation.cell(ACCOUNTS_BLOCK, 'rent', plan.accounts.rowAt(department), period(month));
};
const rows = async (scenario = F2) =>
	(await readStored(db)).scenarios.find((s) => s.scenario.code === scenario)!.scheduleRows[0].rows;
const lastSave = async (user = ana) => (await savesOf({ db, user }, F2))[0];
const words = (save: Awaited<ReturnType<typeof lastSave>>) =>
	save.changes.map(({ words: w }) => `${w.place}: ${w.before} → ${w.after}`);

const CHAIR: RowChange = {
	kind: 'add',
	after: 'r1',
	row: { id: 'r3', values: { what: 'Chair', home: 'praxis', yearly: 600, start: '2026-06-01' } }
};

describe('rows of a schedule', () => {
	it('are changed value by value: the cost moves with a date, and History says from what to what', async () => {
		expect([await rent('labor', '2026-05'), await rent('labor', '2026-07')]).toEqual([2100, 2100]);
		expect(
			await change([set('r2', 'start', '2026-05-01', '2026-07-01'), set('r1', 'indexed', true, false)])
		).toBe(2);
		expect([await rent('labor', '2026-05'), await rent('labor', '2026-07')]).toEqual([100, 2100]);
		const save = await lastSave();
		expect(save.kind).toBe('schedule');
		expect(words(save).sort()).toEqual([
			'Rentals: Microscope, Indexed: yes → no',
			'Rentals: X-ray room, From: 2026-05-01 → 2026-07-01'
		]);
		await undoSave({ db, user: ana }, F2, save.batch);
		expect(await rent('labor', '2026-05')).toBe(2100);
		expect((await rows())[0].values.indexed).toBe(true);
	});
	it('are put in where they are wanted with figures in their months, and taken back with them', async () => {
		const before = await rows();
		const extra = { line: 'extra', row: 'r3', month: '2026-08', value: 25 };
		expect(await change([CHAIR], [extra])).toBe(2);
		expect((await rows()).map((r) => r.id)).toEqual(['r1', 'r3', 'r2']);
		expect([await rent('praxis', '2026-05'), await rent('praxis', '2026-08')]).toEqual([2000, 2075]);
		const stored = await readStored(db);
		expect(readCompany(writeCompany(stored))).toEqual(stored);
		await undoSave({ db, user: ana }, F2, (await lastSave()).batch);
		expect(await rows()).toEqual(before);
		expect(await rent('praxis', '2026-08')).toBe(2000);
	});
	it('are taken out with what was typed in them, and come back with it where they stood', async () => {
		await change([CHAIR], [{ line: 'extra', row: 'r1', month: '2026-06', value: 40 }]);
		await change([], [{ line: 'share', row: 'r2|labor', month: '2026-06', value: 0.25 }]);
		const before = await rows();
		const cost = [await rent('labor', '2026-06'), await rent('praxis', '2026-06')];
		expect(
			await change([
				{ kind: 'remove', id: 'r1' },
				{ kind: 'remove', id: 'r2' }
			])
		).toBe(4);
		expect(await rent('labor', '2026-06')).toBe(null);
		expect(
			(await readStored(db)).scenarios.flatMap((s) => s.series).filter((s) => s.block.startsWith('rentals'))
		).toEqual([]);
		await undoSave({ db, user: ana }, F2, (await lastSave()).batch);
		expect(await rows()).toEqual(before);
		expect([await rent('labor', '2026-06'), await rent('praxis', '2026-06')]).toEqual(cost);
	});
	it('take typed shares along to another department, and out of one that they leave', async () => {
		await change(
			[],
			[
				{ line: 'share', row: 'r2|labor', month: '2026-06', value: 0.25 },
				{ line: 'share', row: 'r2|praxis', month: '2026-06', value: 0.75 }
			]
		);
		await change([set('r2', 'shares', 'praxis', null)]);
		expect([await rent('labor', '2026-06'), await rent('praxis', '2026-06')]).toEqual([600, null]);
		await change([set('r2', 'home', 'labor', 'praxis')]);
		expect([await rent('labor', '2026-06'), await rent('praxis', '2026-06')]).toEqual([100, 500]);
		await undoSave({ db, user: ana }, F2, (await lastSave()).batch);
		expect([await rent('labor', '2026-06'), await rent('praxis', '2026-06')]).toEqual([600, null]);
	});
	it('are as they stood in a copy of a past moment', async () => {
		await change([set('r2', 'start', '2026-05-01', '2026-06-01')]);
		const moment = await lastSave();
		const then = await rows();
		await change([CHAIR, set('r2', 'start', '2026-06-01', '2026-09-01')]);
		await change([{ kind: 'remove', id: 'r1' }, set('r3', 'what', 'Chair', 'Stool')]);
		const copy = await copyAsItStood({ db, user: ana }, F2, moment.batch);
		expect(await rows(copy)).toEqual(then);
		expect(await rent('labor', '2026-06', copy)).toBe(2100);
		expect((await rows()).map((r) => r.id)).toEqual(['r3', 'r2']);
	});
	it('are refused with row and column, and nothing is half done', async () => {
		const before = await rows();
		const fault = async (changes: RowChange[], status = 422) => {
			const refused = await refusedIn(db, change(changes));
			expect(refused.status).toBe(status);
			expect(await rows()).toEqual(before);
			return refused.faults.length
				? refused.faults.map((f) => `${f.column}: ${f.message}`).join('\n')
				: refused.message;
		};
		const good = set('r1', 'yearly', 1200, 1500);
		expect(await fault([good, set('r2', 'end', '2026-12-31', '2026-04-01')])).toBe(
			'r2/end: “Until” is before “From”'
		);
		expect(await fault([good, set('r2', 'start', '2026-05-01', '2026-02-31')])).toMatch(
			/^r2\/start: “2026-02-31” is no date/
		);
		expect(await fault([set('r1', 'home', 'labor', 'gone'), set('r1', 'yearly', 1200, null)])).toBe(
			'r1/home: there is no department “gone”\nr1/yearly: “A year” is missing'
		);
		expect(await fault([set('r2', 'shares', 'praxis', 'labor')])).toMatch(
			/^r2\/shares: “labor” stands twice/
		);
		expect(await fault([{ ...CHAIR, row: { ...CHAIR.row, id: 'a/b' } }])).toMatch(
			/^a\/b\/id: .* no identifier/
		);
		expect(await fault([set('r1', 'colour', null, 'red')])).toBe('r1/colour: there is no column “colour”');
		expect(await fault([good, set('r2', 'yearly', 1, 2)], 409)).toMatch(/has been changed by somebody else/);
		expect(await fault([good, { ...CHAIR, row: { ...CHAIR.row, id: 'r2' } }], 409)).toMatch(
			/There is a rental “r2” in Rentals already/
		);
		expect(await fault([good, { kind: 'remove', id: 'r9' }], 409)).toMatch(/“r9” is no rental of Rentals/);
	});
	it('are not taken back once somebody has changed them since', async () => {
		await change([CHAIR]);
		const added = await lastSave();
		await change([set('r3', 'yearly', 600, 700)]);
		const refused = await refusedIn(db, undoSave({ db, user: ana }, F2, added.batch));
		expect([refused.status, refused.message]).toEqual([
			409,
			'A row of the schedule has been changed since. Nothing is taken back; look at what stands there now.'
		]);
		expect(await rows()).toHaveLength(3);
	});
	it('are of no concern to those who may not see them: History says that something was changed', async () => {
		await change(
			[set('r1', 'yearly', 1200, 1500)],
			[{ line: 'extra', row: 'r1', month: '2026-06', value: 40 }]
		);
		const rita = await userOf(db, 'rita');
		const seen = await lastSave(rita);
		expect([seen.kind, seen.count, seen.changes]).toEqual(['schedule', 2, []]);
		const refused = await refusedIn(
			db,
			saveRows(
				{ db, user: rita },
				{ scenario: F2, schedule: 'rentals', changes: [set('r1', 'yearly', 1500, 1)] }
			)
		);
		expect(refused.status).toBe(403);
	});
});
