/** What stands in a column of a row is looked into like a figure: who typed it, what it is worked out from, what is noted. */
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { savesOf } from '../../src/lib/server/changes/history';
import { addNote, readNotes, removeNote, saveItems } from '../../src/lib/server/changes/notes';
import { readStored } from '../../src/lib/server/company/subjects';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { openFigure } from '../../src/lib/server/reports/traces';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import { saveRows } from '../../src/lib/server/schedules/rows';
import { readSchedule } from '../../src/lib/server/schedules/schedules';
import { DEMO, loaded, secondAnalyst, userOf } from '../support/company';

const BUDGET = 'fy28-budget';
const APR27 = 2027 * 12 + 3;
const WINDOW = { scenario: BUDGET, schedule: 'staff', from: APR27, to: APR27 + 11 };
let db: Knex;
let maren: User;
let hugh: User;
let noor: User;
/** Counts in the department that Hugh plans for a part, at home elsewhere. */
const SHARED = 'K090';
beforeAll(async () => {
	db = await loaded(DEMO);
	[maren, hugh, noor] = [await userOf(db, 'maren'), await userOf(db, 'hugh'), await secondAnalyst(db)];
});
afterAll(() => db.destroy());
const by = (user: User) => ({ db, user });
const open = (line: string, user = maren, row = SHARED, model = 'staff') =>
	openFigure(by(user), BUDGET, { kind: 'line', model, line, row, period: APR27 });
const cell = (line: string, period = '2027-04') => ({ block: 'staff', line, row: SHARED, period });
const stands = async (line: string) =>
	(await readSchedule(by(maren), WINDOW)).list.find((r) => r.id === SHARED)!.values[line];

describe('a column of a row', () => {
	it('tells who typed it, from what, in the words of the list', async () => {
		const before = (await stands('start')) as string;
		await saveRows(by(maren), {
			scenario: BUDGET,
			schedule: 'staff',
			changes: [{ kind: 'set', id: SHARED, column: 'start', before, value: '2021-03-01' }]
		});
		const found = await open('start');
		expect(found).toMatchObject({
			title: 'Start',
			place: 'Morwenna Tate · Staff',
			column: { text: '2021-03-01' },
			trace: { explanations: [{ kind: 'input' }] }
		});
		expect(found.history).toMatchObject([{ name: 'Maren Holt', before, after: '2021-03-01' }]);
		expect((await open('department')).column!.text).toBe('Design Office');
		expect((await open('open_post')).column!.text).toBe('');
		const { contracts } = { contracts: await readSchedule(by(maren), { ...WINDOW, schedule: 'contracts' }) };
		const worked = contracts.definition.columns.find((c) => c.formula !== undefined && c.kind === 'date')!;
		const row = contracts.list.find((r) => r.values.notice !== undefined)!.id;
		const computed = await open(worked.code, maren, row, 'contracts');
		expect(computed.column!.text).toMatch(/^(\d{4}-\d{2}-\d{2})?$/);
		expect(computed.trace.explanations[0]).toMatchObject({ kind: 'formula', formula: worked.formula });
	});
	it('takes notes of no month, which stand in the list, in History, in files and in copies', async () => {
		await addNote(by(maren), BUDGET, cell('start'), 'As agreed in spring', null);
		// Whatever month it is asked in, it is the same cell.
		const [note] = (await readNotes(by(maren), BUDGET, cell('start', '2027-09'))).notes;
		expect(note.text).toBe('As agreed in spring');
		const { marks } = await readSchedule(by(maren), WINDOW);
		expect(marks).toMatchObject([
			{ block: 'staff', line: 'start', row: SHARED, period: null, notes: 1, last: 'As agreed in spring' }
		]);
		const [save] = await savesOf(by(maren), BUDGET);
		expect(save.changes[0].words).toMatchObject({
			place: 'Staff: Start, Morwenna Tate',
			after: 'As agreed in spring'
		});
		const stored = (await readStored(db)).scenarios.find((s) => s.scenario.code === BUDGET)!;
		expect(stored.notes.map((n) => n.subject)).toContain(`staff/start/${SHARED}/`);
		const copy = await copyScenario(by(maren), BUDGET, 'With notes', 'what-if', true);
		expect((await readSchedule(by(maren), { ...WINDOW, scenario: copy })).marks).toHaveLength(1);
		const item = { description: 'x', quantity: null, rate: null, amount: 1 };
		await expect(saveItems(by(maren), BUDGET, cell('annual'), [item], null)).rejects.toMatchObject({
			status: 422
		});
	});
	it('is for those who see it: no pay without that right, and not where else a row counts', async () => {
		await addNote(by(maren), BUDGET, cell('annual'), 'She asked for more', null);
		await addNote(by(maren), BUDGET, cell('department'), 'Moves to the Design Office', null);
		const lines = async (user: User) =>
			(await readSchedule(by(user), WINDOW)).marks.map((m) => m.line).sort();
		expect(await lines(maren)).toEqual(['annual', 'department', 'start']);
		expect(await lines(noor)).toEqual(['department', 'start']);
		expect(await lines(hugh)).toEqual(['start']);
		for (const asked of [
			open('annual', noor),
			open('annual', hugh),
			open('department', hugh),
			readNotes(by(noor), BUDGET, cell('annual')),
			readNotes(by(hugh), BUDGET, cell('department')),
			addNote(by(hugh), BUDGET, cell('department'), 'x', null),
			// Somebody of another department.
			open('start', hugh, 'K001')
		])
			await expect(asked).rejects.toMatchObject({ status: 403 });
		expect((await open('start', hugh)).column!.text).toBe('2021-03-01');
		expect(JSON.stringify(await savesOf(by(noor), BUDGET))).not.toContain('She asked for more');
		const [mine] = (await readNotes(by(maren), BUDGET, cell('annual'))).notes;
		await expect(removeNote(by(noor), mine.id)).rejects.toMatchObject({ status: 404 });
		await removeNote(by(maren), mine.id);
		expect(await lines(maren)).toEqual(['department', 'start']);
	});
});
