/** Schedules that are made, changed and taken out in the product, as analysts do it. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { ScheduleDefinition } from '../../src/lib/core/blocks/schedule/schema';
import { SCHEDULE_TEMPLATES } from '../../src/lib/core/blocks/schedule/templates';
import { ACCOUNTS_BLOCK } from '../../src/lib/core/engine/spec';
import { copyAsItStood } from '../../src/lib/server/changes/as-of';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { saveCells } from '../../src/lib/server/changes/save-cells';
import { readCompany, readStored, storeCompany, writeCompany } from '../../src/lib/server/company/subjects';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { asOne } from '../../src/lib/server/platform/context';
import { scenarioBlocks } from '../../src/lib/server/scenarios/plan-data';
import { planOf } from '../../src/lib/server/scenarios/plans';
import {
	changeSchedule,
	createSchedule,
	scheduleDesign,
	type NewSchedule,
	type ScheduleChange
} from '../../src/lib/server/schedules/design';
import { importRows } from '../../src/lib/server/schedules/import';
import { saveRows } from '../../src/lib/server/schedules/rows';
import { listSchedules, readSchedule } from '../../src/lib/server/schedules/schedules';
import { refusedIn, userOf } from '../support/company';
import { F2, rentalFiles, RENTALS } from '../support/rentals';

let db: Knex;
let ana: User;
beforeEach(async () => {
	db = await openDatabase(':memory:');
	await storeCompany(db, readCompany(rentalFiles()));
	ana = await userOf(db, 'ana');
});
afterEach(() => db.destroy());

const as = () => ({ db, user: ana });
const make = (from: NewSchedule['from'], name = 'Leases', one = 'lease') =>
	createSchedule(as(), { scenarios: [F2], name, one, from });
const design = (code = 'rentals') => scheduleDesign(as(), F2, code);
const edit = async (
	change: (d: ScheduleDefinition) => Partial<ScheduleDefinition> | null,
	more: Partial<ScheduleChange> = {}
) => {
	const { definition, version } = await design();
	const changed = change(definition);
	return changeSchedule(as(), {
		scenarios: [F2],
		schedule: 'rentals',
		version,
		definition: changed && { ...definition, ...changed },
		drop: false,
		...more
	});
};
const without = (code: string) => (d: ScheduleDefinition) => ({
	columns: d.columns.filter((c) => c.code !== code)
});
const rent = async (department: string, month: number, scenario = F2) => {
	const plan = await planOf(db, scenario);
	return plan.calculation.cell(
		ACCOUNTS_BLOCK,
		'rent',
		plan.accounts.rowAt(department),
		2026 * 12 + month - 1
	);
};
const rows = async () =>
	(await readStored(db)).scenarios.find((s) => s.scenario.code === F2)!.scheduleRows[0].rows;
const lastSave = async () => (await savesOf(as(), F2))[0];

describe('a new schedule', () => {
	it('is known as it is changed, at once, and made again only then', async () => {
		const before = await scenarioBlocks(db, F2);
		expect(before.get('rentals')!.line('deposit')).toBeUndefined();
		expect(await scenarioBlocks(db, F2)).toBe(before);
		await edit((d) => ({ lines: [...d.lines, { ...d.lines[0], code: 'deposit', label: 'Deposit' }] }));
		expect((await scenarioBlocks(db, F2)).get('rentals')!.line('deposit')).toMatchObject({
			label: 'Deposit'
		});
	});
	it('from nothing has a name, a department and an amount, and takes rows at once', async () => {
		const code = await make({ kind: 'blank' });
		const { definition } = await design(code);
		expect([code, definition.one, definition.columns.map((c) => c.label)]).toEqual([
			'leases',
			'lease',
			['What', 'Department']
		]);
		await saveRows(as(), {
			scenario: F2,
			schedule: code,
			changes: [{ kind: 'add', row: { id: 'l1', values: { what: 'Printer', department: 'labor' } } }],
			edits: [{ block: code, line: 'amount', row: 'l1', period: 2026 * 12 + 5, before: null, value: 80 }]
		});
		const { rows: shown, totals } = await readSchedule(as(), {
			scenario: F2,
			schedule: code,
			from: 2026 * 12 + 5,
			to: 2026 * 12 + 6
		});
		expect(shown[0].label).toBe('Printer');
		expect(totals.slice(0, 2)).toEqual([80, null]);
		const stored = await readStored(db);
		expect(readCompany(writeCompany(stored))).toEqual(stored);
		expect((await listSchedules(as(), F2)).map((s) => [s.name, s.rows])).toEqual([
			['Rentals', 2],
			['Leases', 1]
		]);
	});
	it.each(SCHEDULE_TEMPLATES.map((t) => [t.name, t] as const))(
		'from the template %s calculates at once, posted where it is wanted',
		async (_, template) => {
			const flows = template.posts.filter((p) => !p.balance);
			const accounts = Object.fromEntries(flows.slice(0, 1).map(({ line }) => [line, 'rent']));
			const code = await make({ kind: 'template', template: template.code, accounts }, template.name, '');
			const { definition } = await design(code);
			expect(definition.one).toBe(template.form.one);
			const needed = Object.fromEntries(
				definition.columns
					.filter((c) => c.required || c.code === 'annual')
					.map((c) => [
						c.code,
						c.kind === 'date'
							? c.code === 'end'
								? '2027-03-31'
								: '2026-04-01'
							: c.kind === 'department'
								? 'labor'
								: c.kind === 'account'
									? 'rent'
									: c.kind === 'pick'
										? (c.default as string)
										: c.kind === 'text'
											? 'First'
											: 12
					])
			);
			const before = Number(await rent('labor', 5));
			await saveRows(as(), {
				scenario: F2,
				schedule: code,
				changes: [{ kind: 'add', row: { id: 'a', values: needed } }]
			});
			// A year's 12 are 1 a month, however they come about.
			expect(Number(await rent('labor', 5)) - before).toBeCloseTo(1, 9);
			const plan = await planOf(db, F2);
			for (const line of definition.lines)
				expect(typeof plan.calculation.cell(code, line.code, 0, 2026 * 12 + 5), line.code).not.toBe('string');
		}
	);
	it('from a template posts what has worn as taken from its balance', async () => {
		const code = await make({ kind: 'template', template: 'assets', accounts: { accumulated: 'rent' } });
		expect((await design(code)).definition.postings).toEqual([
			{ line: 'accumulated', account: { code: 'rent' }, lowers: true }
		]);
	});
	it('as a copy has the same columns and posts nothing twice', async () => {
		await make({ kind: 'copy', schedule: 'rentals', withRows: true }, 'More rentals', '');
		const { definition } = await design('more_rentals');
		expect([definition.postings, definition.one]).toEqual([[], 'rental']);
		expect(await rent('labor', 5)).toBe(2100);
		const shown = await readSchedule(as(), {
			scenario: F2,
			schedule: 'more_rentals',
			from: 24316,
			to: 24316
		});
		expect(shown.count).toBe(2);
	});
	it('is refused under a name in use, in a locked scenario, from what is not there, and for who may not', async () => {
		expect((await refusedIn(db, make({ kind: 'blank' }, 'Rentals'))).status).toBe(409);
		expect((await refusedIn(db, make({ kind: 'template', template: 'none', accounts: {} }))).status).toBe(
			404
		);
		expect((await refusedIn(db, make({ kind: 'copy', schedule: 'none', withRows: true }))).status).toBe(404);
		const posted = make({ kind: 'template', template: 'people', accounts: { pay: 'result' } });
		expect((await refusedIn(db, posted)).faults[0].message).toMatch(/“Result” is a total/);
		await db('scenario').where({ code: F2 }).update({ locked: 1 });
		expect((await refusedIn(db, make({ kind: 'blank' }))).message).toMatch(/is locked/);
		const rita = await userOf(db, 'rita');
		const hers = createSchedule(
			{ db, user: rita },
			{ scenarios: [F2], name: 'X', one: '', from: { kind: 'blank' } }
		);
		expect((await refusedIn(db, hers)).status).toBe(403);
	});
});

describe('a schedule that is changed', () => {
	it('takes a column and a line, and rows get what is usual where something is needed', async () => {
		await edit((d) => ({
			columns: [
				...d.columns,
				{
					code: 'kind',
					label: 'Kind',
					kind: 'pick',
					unit: '',
					choices: ['old', 'new'],
					required: true,
					default: 'old'
				}
			],
			lines: [
				...d.lines,
				{ ...d.lines[1], code: 'deposit', label: 'Deposit', formula: 'if(kind = "old", 1, 2) * yearly' }
			]
		}));
		expect((await rows()).map((r) => r.values.kind)).toEqual(['old', 'old']);
		expect((await lastSave()).changes.map((c) => c.why).join()).toMatch(
			/column Kind added, line Deposit added/
		);
		await undoSave(as(), F2, (await lastSave()).batch);
		expect((await design()).definition).toEqual(RENTALS);
		expect((await rows())[0].values).not.toHaveProperty('kind');
	});
	it('says what would be taken out, takes it out when told, and brings it back', async () => {
		await saveRows(as(), {
			scenario: F2,
			schedule: 'rentals',
			changes: [],
			edits: [{ block: 'rentals', line: 'extra', row: 'r1', period: 2026 * 12 + 5, before: null, value: 40 }]
		});
		const before = await rows();
		const gone = (d: ScheduleDefinition) => ({
			...without('indexed')(d),
			lines: [{ ...d.lines[1], formula: 'yearly / 12 * active(start, end)' }]
		});
		const refused = await refusedIn(db, edit(gone));
		expect(refused.data).toEqual([
			{ scenario: F2, label: 'Indexed', cells: 2 },
			{ scenario: F2, label: 'Extra', cells: 1 }
		]);
		expect(await rent('labor', 6)).toBe(2140);
		await edit(gone, { drop: true });
		expect([await rent('labor', 6), (await rows())[0].values.indexed]).toEqual([2100, undefined]);
		await undoSave(as(), F2, (await lastSave()).batch);
		expect(await rows()).toEqual(before);
		expect(await rent('labor', 6)).toBe(2140);
	});
	it('is taken out with its rows and comes back with them', async () => {
		const before = await rows();
		expect(
			(
				await refusedIn(
					db,
					edit(() => null)
				)
			).data
		).toEqual([{ scenario: F2, label: 'Rentals: rows', cells: 2 }]);
		await edit(() => null, { drop: true });
		expect(await listSchedules(as(), F2)).toEqual([]);
		expect(await rent('labor', 5)).toBe(null);
		const save = await lastSave();
		const stored = await readStored(db);
		expect(readCompany(writeCompany(stored))).toEqual(stored);
		await undoSave(as(), F2, save.batch);
		expect(await rows()).toEqual(before);
		expect(await rent('labor', 5)).toBe(2100);
	});
	it('keeps what stands in a column under another code', async () => {
		await edit(
			(d) => ({
				columns: d.columns.map((c) => (c.code === 'yearly' ? { ...c, code: 'a_year' } : c)),
				lines: d.lines.map((l) => (l.formula ? { ...l, formula: l.formula.replace('yearly', 'a_year') } : l))
			}),
			{ renamed: { yearly: 'a_year' } }
		);
		expect((await rows())[0].values).toMatchObject({ a_year: 1200 });
		expect(await rent('labor', 5)).toBe(2100);
	});
	it('is as it was in a copy of a past moment', async () => {
		await saveRows(as(), {
			scenario: F2,
			schedule: 'rentals',
			changes: [{ kind: 'set', id: 'r1', column: 'yearly', before: 1200, value: 2400 }]
		});
		const moment = await lastSave();
		await edit(without('indexed'), { drop: true });
		const copy = await copyAsItStood(as(), F2, moment.batch);
		const [held] = (await readStored(db)).scenarios.find((s) => s.scenario.code === copy)!.scheduleRows;
		expect(held.rows.map((r) => r.values.indexed)).toEqual([true, false]);
		expect(await rent('labor', 5, copy)).toBe(2200);
	});
	it('is refused at its place, and nothing is half done', async () => {
		const fault = async (...change: Parameters<typeof edit>) => {
			const refused = await refusedIn(db, edit(...change));
			expect((await design()).definition).toEqual(RENTALS);
			return refused.faults[0]
				? `${refused.faults[0].column}: ${refused.faults[0].message}`
				: refused.message;
		};
		expect(await fault(without('yearly'), { drop: true })).toMatch(/^lines\.cost\.formula: .*yearly/);
		expect(
			await fault((d) => ({ lines: d.lines.map((l) => (l.formula ? { ...l, formula: 'cost + 1' } : l)) }))
		).toMatch(/own (month|period)|itself|circle/i);
		expect(
			await fault((d) => ({
				columns: d.columns.map((c) => (c.code === 'payer' ? { ...c, required: true } : c))
			}))
		).toMatch(/^r2\/payer: “Paid by” is missing/);
		expect(await fault((d) => ({ code: 'other', name: d.name }))).toMatch(/code stays what it is/);
		expect(await fault(() => ({}), { version: 'older' })).toMatch(
			/has been changed in “.*” since you opened it/
		);
		expect(
			await fault((d) => ({ columns: [...d.columns, { ...d.columns[0], code: 'shares', required: false }] }))
		).toMatch(/“shares” has another meaning/);
	});
});

describe('figures that are typed where a schedule comes to post', () => {
	const JUNE = 2026 * 12 + 5;
	const type = (line: string, row: string, ...values: number[]) =>
		asOne(as(), (within) =>
			saveCells(
				within,
				F2,
				values.map((value, i) => ({
					block: ACCOUNTS_BLOCK,
					line,
					row,
					period: JUNE + i,
					before: null,
					value
				}))
			)
		);
	const at = async (account: string, department: string, period = JUNE) => {
		const plan = await planOf(db, F2);
		return plan.calculation.cell(ACCOUNTS_BLOCK, account, plan.accounts.rowAt(department), period);
	};
	const toSupplies = (): Partial<ScheduleDefinition> => ({
		postings: [{ line: 'cost', account: { code: 'supplies' } }]
	});
	const moveTo = (home: string, typed?: 'keep' | 'remove') =>
		saveRows(as(), {
			scenario: F2,
			schedule: 'rentals',
			changes: [{ kind: 'set', id: 'r1', column: 'home', before: 'labor', value: home }],
			...(typed ? { typed } : {})
		});

	it('are listed before a posting takes the account over; kept, they stand over it', async () => {
		await type('supplies', 'labor', 77, 33);
		const refused = await refusedIn(db, edit(toSupplies));
		expect([refused.status, refused.data]).toEqual([
			422,
			{
				typed: [
					{
						scenario: F2,
						account: 'supplies',
						department: 'labor',
						name: 'Supplies, Laboratory',
						cells: 2,
						sum: 110
					}
				]
			}
		]);
		await edit(toSupplies, { typed: 'keep' });
		expect([await at('supplies', 'labor'), await at('supplies', 'labor', JUNE + 2)]).toEqual([77, 2100]);
		// What has been decided is not asked again.
		await edit((d) => ({ name: `${d.name} and leases` }));
	});
	it('are taken out where that is wanted, and come back with the save that is taken back', async () => {
		await type('supplies', 'labor', 77, 33);
		await edit(toSupplies, { typed: 'remove' });
		expect(await at('supplies', 'labor')).toBe(2100);
		await undoSave(as(), F2, (await lastSave()).batch);
		expect([await at('supplies', 'labor'), await at('rent', 'labor')]).toEqual([77, 2100]);
	});
	it('are listed too when a row comes to another department, by hand or by a list', async () => {
		await type('rent', 'office', 500);
		const asked = [
			moveTo('office'),
			importRows(as(), 'rentals', { scenario: F2, text: 'id\tDepartment\nr1\tOffice', dry: false })
		];
		for (const work of asked)
			expect((await refusedIn(db, work)).data).toMatchObject({
				typed: [{ account: 'rent', department: 'office', cells: 1, sum: 500 }]
			});
		await moveTo('office', 'remove');
		expect(await at('rent', 'office')).toBe(100);
		// Where it was posted before nobody is asked, nor where nothing is typed.
		await undoSave(as(), F2, (await lastSave()).batch);
		await moveTo('praxis');
		expect([await at('rent', 'office'), await at('rent', 'praxis')]).toEqual([500, 2100]);
	});
	it('are not taken out of a plan that is submitted', async () => {
		await type('rent', 'office', 500);
		await db('round').insert({
			code: 'r',
			name: 'R',
			scenario: F2,
			due: '2026-06-01',
			instructions: '',
			position: 0
		});
		await db('submission').insert({
			round: 'r',
			department: 'office',
			state: 'submitted',
			due: '2026-06-01'
		});
		expect((await refusedIn(db, moveTo('office', 'remove'))).status).toBe(403);
		await moveTo('office', 'keep');
		expect(await at('rent', 'office')).toBe(500);
	});
});
