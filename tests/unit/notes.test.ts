/** Notes, items and attachments; keeping scenarios. On the demo, below the interface. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { maySeeScenario } from '../../src/lib/server/platform/auth/policy';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { setLock } from '../../src/lib/server/scenarios/close';
import { readCompany, readStored, storeCompany, writeCompany } from '../../src/lib/server/company/subjects';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { readDepartmentPlan } from '../../src/lib/server/accounts/department-plan';
import { readModel, saveFormula } from '../../src/lib/server/models/models';
import { openRound } from '../../src/lib/server/rounds/submissions';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import {
	addAttachment,
	addNote,
	readAttachment,
	readNotes,
	removeNote,
	saveItems
} from '../../src/lib/server/changes/notes';
import {
	changeScenario,
	deleteScenario,
	restoreScenario,
	scenarioEntries
} from '../../src/lib/server/scenarios/list';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { visibleScenarios } from '../../src/lib/server/scenarios/scenarios';
import { openFigure } from '../../src/lib/server/reports/traces';
import { contentOf, DEMO, loaded, refusedIn, userOf, typeInPlan } from '../support/company';

const APR27 = 2027 * 12 + 3;
const BUDGET = 'fy28-budget';
const WHAT_IF = 'dearer-kayaks';
const cell = { block: 'accounts', line: '6240', row: 'dealer-sales', period: '2027-04' };
let db: Knex;
let maren: User;
let tom: User;
let oliver: User;
let beth: User;
beforeEach(async () => {
	db = await loaded(DEMO);
	[maren, tom, oliver, beth] = await Promise.all(
		['maren', 'tom', 'oliver', 'beth'].map((n) => userOf(db, n))
	);
});
afterEach(() => db.destroy());
const refused = (action: Promise<unknown>) => refusedIn(db, action);
const planned = async (month = 0) => {
	const { rows } = await readDepartmentPlan({ db, user: maren }, BUDGET, 'dealer-sales', APR27, APR27 + 11);
	return rows.find((r) => r.account === '6240')!.cells[month];
};

describe('notes', () => {
	it('have author and time, are answered, counted per cell, and taken away by who wrote them', async () => {
		await addNote({ db, user: tom }, BUDGET, cell, 'Two more stands.', null);
		const [question] = (await readNotes({ db, user: oliver }, BUDGET, cell)).notes;
		expect(question).toMatchObject({ name: 'Tom Aldous', text: 'Two more stands.', own: false });
		await addNote({ db, user: oliver }, BUDGET, cell, 'Which ones?', question.id);
		const { notes } = await readNotes({ db, user: tom }, BUDGET, cell);
		expect(notes.map((n) => [n.answers, n.own])).toEqual([
			[null, true],
			[question.id, false]
		]);
		const { marks } = await readDepartmentPlan({ db, user: tom }, BUDGET, 'dealer-sales', APR27, APR27);
		expect(marks).toEqual([
			{
				line: '6240',
				row: 'dealer-sales',
				period: APR27,
				notes: 2,
				items: 0,
				attachments: 0,
				last: 'Which ones?'
			}
		]);
		await refused(removeNote({ db, user: oliver }, question.id));
		await removeNote({ db, user: tom }, question.id);
		expect((await readNotes({ db, user: tom }, BUDGET, cell)).notes).toEqual([]);
	});
	it('are read and written within the rights of their cell', async () => {
		const other = { ...cell, row: 'rigging' };
		expect((await refused(addNote({ db, user: tom }, BUDGET, other, 'x', null))).status).toBe(403);
		expect((await refused(readNotes({ db, user: tom }, BUDGET, other))).status).toBe(403);
		expect((await refused(addNote({ db, user: beth }, BUDGET, cell, 'x', null))).status).toBe(403);
		expect((await refused(addNote({ db, user: maren }, 'actuals', cell, 'x', null))).message).toMatch(
			/take no notes/
		);
		const line = { block: 'boat_sales', line: 'units', row: 'eider-10|dealer|lakes', period: '2027-04' };
		expect((await refused(addNote({ db, user: tom }, BUDGET, line, 'x', null))).status).toBe(403);
		await addNote({ db, user: maren }, BUDGET, line, 'As agreed.', null);
		expect((await readNotes({ db, user: oliver }, BUDGET, line)).notes).toHaveLength(1);
	});
});

describe('items', () => {
	const items = [
		{ description: 'Stand fee', quantity: 2, rate: 1450.555, amount: 2901.11 },
		{ description: 'Leaflets', quantity: null, rate: null, amount: 0.1 },
		{ description: 'Tape', quantity: null, rate: null, amount: 0.2 }
	];
	it('make up the cell, to the cent, and are in History with who did it', async () => {
		expect(await saveItems({ db, user: tom }, BUDGET, cell, items, null)).toBe(2901.41);
		expect(await planned()).toBe(2901.41);
		expect((await readNotes({ db, user: maren }, BUDGET, cell)).items).toEqual(items);
		const saves = await savesOf({ db, user: maren }, BUDGET);
		expect(saves.map((s) => s.kind)).toEqual(expect.arrayContaining(['items', 'plan']));
		const figure = await openFigure({ db, user: maren }, BUDGET, {
			kind: 'account',
			account: '6240',
			department: 'dealer-sales',
			from: APR27,
			to: APR27
		});
		expect(figure.history[0]).toMatchObject({ name: 'Tom Aldous', after: '2901.41' });
	});
	it('are added as cents: a tenth and two tenths are three', async () => {
		expect(await saveItems({ db, user: tom }, BUDGET, cell, items.slice(1), null)).toBe(0.3);
		expect(await planned()).toBe(0.3);
	});
	it('are kept only where the cell may be typed, as it was seen, and when they add up', async () => {
		expect((await refused(saveItems({ db, user: oliver }, BUDGET, cell, items, null))).status).toBe(403);
		expect(
			(await refused(saveItems({ db, user: maren }, BUDGET, { ...cell, row: 'hull-shop' }, items, null)))
				.message
		).toMatch(/submitted/);
		expect((await refused(saveItems({ db, user: tom }, BUDGET, cell, items, 7))).status).toBe(409);
		const wrong = [{ ...items[0], amount: 3000 }];
		expect((await refused(saveItems({ db, user: tom }, BUDGET, cell, wrong, null))).message).toMatch(
			/Item 1.*quantity × rate/
		);
	});
});

describe('attachments', () => {
	it('come back as they were, to those who may see the cell', async () => {
		const bytes = Uint8Array.from([0, 255, 13, 10, 7]);
		await addAttachment({ db, user: tom }, BUDGET, cell, 'offer.pdf', bytes);
		const [{ id, size }] = (await readNotes({ db, user: tom }, BUDGET, cell)).attachments;
		expect(size).toBe(5);
		expect(new Uint8Array((await readAttachment({ db, user: oliver }, id)).content)).toEqual(bytes);
		expect((await refused(readAttachment({ db, user: await userOf(db, 'petra') }, id))).status).toBe(404);
		expect(
			(await refused(addAttachment({ db, user: tom }, BUDGET, cell, 'none.txt', new Uint8Array()))).message
		).toMatch(/empty/);
		expect(
			(await refused(addAttachment({ db, user: tom }, BUDGET, cell, 'big', new Uint8Array(10_000_001))))
				.status
		).toBe(413);
	});
	it('and notes and items go through a company folder without loss, and along with a copy when wanted', async () => {
		await addNote({ db, user: tom }, BUDGET, cell, 'A note, “quoted”\nover two lines', null);
		const [{ id }] = (await readNotes({ db, user: tom }, BUDGET, cell)).notes;
		await addNote({ db, user: oliver }, BUDGET, cell, 'Fine.', id);
		await saveItems(
			{ db, user: tom },
			BUDGET,
			cell,
			[{ description: 'x', quantity: 3, rate: 2, amount: 6 }],
			null
		);
		await addAttachment({ db, user: tom }, BUDGET, cell, 'offer.bin', Uint8Array.from([1, 0, 2]));
		const files = writeCompany(await readStored(db));
		const again = await openDatabase(':memory:');
		await storeCompany(again, readCompany(files));
		expect(writeCompany(await readStored(again))).toEqual(files);
		await again.destroy();
		const [plain, full] = [
			await copyScenario({ db, user: maren }, BUDGET, 'Plain', 'what-if'),
			await copyScenario({ db, user: maren }, BUDGET, 'Full', 'what-if', true)
		];
		expect((await readNotes({ db, user: maren }, plain, cell)).notes).toEqual([]);
		const copied = await readNotes({ db, user: maren }, full, cell);
		expect([copied.notes.length, copied.items.length, copied.attachments.length]).toEqual([2, 1, 1]);
		expect(copied.notes[1].answers).toBe(copied.notes[0].id);
	});
});

describe('keeping scenarios', () => {
	it('gives them a name, a folder and words, each in the journal', async () => {
		await changeScenario({ db, user: maren }, WHAT_IF, {
			name: 'Kayaks',
			folder: ' Ideas / 2027 /',
			description: 'x'
		});
		const own = (await scenarioEntries({ db, user: maren })).find((s) => s.code === WHAT_IF)!;
		expect(own).toMatchObject({
			name: 'Kayaks',
			folder: 'Ideas/2027',
			description: 'x',
			ownerName: 'Maren Holt'
		});
		const [save] = await savesOf({ db, user: maren }, WHAT_IF);
		expect(save).toMatchObject({ kind: 'scenario', count: 3, undoable: false });
		expect(
			(await refused(changeScenario({ db, user: maren }, WHAT_IF, { name: 'FY27 Budget' }))).status
		).toBe(409);
		expect((await refused(changeScenario({ db, user: oliver }, WHAT_IF, { name: 'x' }))).status).toBe(403);
	});
	it('hides them from all but those named, by every door', async () => {
		const codes = async (user: User) => (await visibleScenarios({ db, user })).map((s) => s.code);
		await changeScenario({ db, user: maren }, WHAT_IF, { visibility: 'finance' });
		expect(await codes(tom)).not.toContain(WHAT_IF);
		expect(await codes(oliver)).toContain(WHAT_IF);
		await changeScenario({ db, user: maren }, WHAT_IF, { visibility: 'people', people: [tom.email] });
		expect(await codes(oliver)).not.toContain(WHAT_IF);
		expect(await codes(maren)).toContain(WHAT_IF);
		const read = (user: User) => readDepartmentPlan({ db, user }, WHAT_IF, 'dealer-sales', APR27, APR27);
		expect((await read(tom)).rows.length).toBeGreaterThan(0);
		expect((await refused(read(oliver))).status).toBe(404);
		expect((await refused(savesOf({ db, user: oliver }, WHAT_IF))).status).toBe(404);
		expect((await refused(readNotes({ db, user: oliver }, WHAT_IF, cell))).status).toBe(404);
		const departments = (await planOf(db, WHAT_IF)).structure.departments;
		expect(maySeeScenario(beth, { visibility: 'people', people: [], owner: '' }, departments)).toBe(false);
		expect(
			(await refused(changeScenario({ db, user: maren }, BUDGET, { visibility: 'finance' }))).message
		).toMatch(/round/);
		expect(
			(await refused(changeScenario({ db, user: maren }, WHAT_IF, { people: ['nobody@x'] }))).message
		).toMatch(/no user/);
	});
	it('keeps a hidden one out of other people’s formulas, models, closings and rounds', async () => {
		await changeScenario({ db, user: maren }, WHAT_IF, { visibility: 'people' });
		await db('user').where({ email: oliver.email }).update({ role: 'analyst' });
		const other: User = { ...oliver, role: 'analyst' };
		const formula = (user: User, scenario: string, also: string[] = []) =>
			saveFormula(
				{ db, user },
				{
					scenario,
					model: 'boat_sales',
					line: 'margin',
					formula: `revenue - material - 0 * scenario("${WHAT_IF}", units)`,
					also
				}
			);
		expect((await refused(formula(other, 'fy27-forecast-6-6'))).message).toMatch(
			/no scenario “dearer-kayaks”/
		);
		expect((await refused(formula(other, 'fy28-budget', [WHAT_IF]))).status).toBeGreaterThanOrEqual(404);
		const view = await readModel(
			{ db, user: other },
			{
				scenario: 'fy27-forecast-6-6',
				model: 'boat_sales',
				from: APR27,
				to: APR27
			}
		);
		expect(view.names.scenarios).not.toContain(WHAT_IF);
		expect(view.alsoUsedBy.map((s) => s.code)).not.toContain(WHAT_IF);
		const round = {
			name: 'Hidden',
			scenario: WHAT_IF,
			due: '2026-12-01',
			instructions: '',
			departments: ['rigging']
		};
		expect((await refused(openRound({ db, user: other }, round))).status).toBe(404);
		expect((await refused(openRound({ db, user: maren }, round))).message).toMatch(/not there for everybody/);
		// Who sees it may read it where all others see it too, and it cannot be deleted then.
		expect((await refused(formula(maren, 'fy27-forecast-6-6'))).message).toMatch(/hide “FY27 Forecast 6\+6”/);
		await changeScenario({ db, user: maren }, WHAT_IF, { visibility: 'all' });
		await formula(maren, 'fy27-forecast-6-6');
		expect((await refused(deleteScenario({ db, user: maren }, WHAT_IF))).message).toMatch(
			/formulas of FY27 Forecast 6\+6/
		);
	});
	it('makes them longer, each line going on as it says, and never shorter', async () => {
		const { last, first } = (await planOf(db, WHAT_IF)).scenario;
		const units = async () => (await planOf(db, WHAT_IF)).calculation;
		const before = (await units()).cell('boat_sales', 'units', 0, last - 11);
		await changeScenario({ db, user: maren }, WHAT_IF, { last: last + 24 });
		const longer = await planOf(db, WHAT_IF);
		expect(longer.scenario.last).toBe(last + 24);
		expect(longer.calculation.cell('boat_sales', 'units', 0, last + 1)).toBe(before);
		expect((await refused(changeScenario({ db, user: maren }, WHAT_IF, { last: last }))).message).toMatch(
			/never shorter/
		);
		expect(
			(await refused(changeScenario({ db, user: maren }, WHAT_IF, { last: first + 120 }))).message
		).toMatch(/ten|10 years/);
		await changeScenario({ db, user: maren }, WHAT_IF, { last: first + 119 });
		expect(
			(await refused(changeScenario({ db, user: maren }, 'fy27-budget', { last: last + 1 }))).message
		).toMatch(/is locked/);
	});
	it('deletes what nothing rests on, and brings it back with every figure', async () => {
		const r = await refused(deleteScenario({ db, user: maren }, 'fy27-forecast-6-6'));
		expect(r.message).toMatch(/is used in FY28 Budget/);
		await setLock({ db, user: maren }, WHAT_IF, true, '');
		expect((await refused(deleteScenario({ db, user: maren }, WHAT_IF))).message).toMatch(/is locked/);
		await setLock({ db, user: maren }, WHAT_IF, false, 'To be deleted.');
		const series = await contentOf(db, ['series', 'adjustment', 'basis']);
		await deleteScenario({ db, user: maren }, WHAT_IF);
		expect((await visibleScenarios({ db, user: maren })).map((s) => s.code)).not.toContain(WHAT_IF);
		expect((await refused(planOf(db, WHAT_IF))).status).toBe(404);
		expect(
			(
				await refused(
					typeInPlan({ db, user: maren }, WHAT_IF, 'dealer-sales', [
						{ account: '6240', period: APR27, before: null, value: 1 }
					])
				)
			).status
		).toBe(404);
		// Its name may be taken meanwhile.
		await copyScenario({ db, user: maren }, 'fy27-forecast-6-6', 'Dearer kayaks', 'what-if');
		expect(await restoreScenario({ db, user: maren }, WHAT_IF)).toBe('Dearer kayaks 2');
		await db('scenario').where({ name: 'Dearer kayaks' }).delete();
		expect(await contentOf(db, ['series', 'adjustment', 'basis'])).toBe(series);
	});
	it('takes a department’s save back too', async () => {
		const basis = await planned();
		await typeInPlan({ db, user: tom }, BUDGET, 'dealer-sales', [
			{ account: '6240', period: APR27, before: null, value: 1 }
		]);
		const [{ batch }] = await savesOf({ db, user: maren }, BUDGET);
		expect(await undoSave({ db, user: maren }, BUDGET, batch)).toBe(1);
		expect(await planned()).toBe(basis);
		expect((await refused(undoSave({ db, user: tom }, BUDGET, batch))).status).toBe(403);
	});
});
