/** What single people earn reaches nobody who may not see it, by no door; all else of a schedule does. */
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { sharesCode } from '../../src/lib/core/blocks/schedule/schema';
import { ACCOUNTS_BLOCK } from '../../src/lib/core/engine/spec';
import { calculateScenario } from '../../src/lib/core/scenario/assemble';
import { packageFromBytes, packageToBytes, unpackScenario } from '../../src/lib/core/scenario/package';
import { SchedulePreview } from '../../src/lib/core/views/schedule-preview';
import {
	adoptAdjustments,
	changeAdjustments,
	readAdjustments,
	type AdjustmentChange
} from '../../src/lib/server/changes/adjustments';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { copyAsItStood } from '../../src/lib/server/changes/as-of';
import { addNote, readNotes } from '../../src/lib/server/changes/notes';
import { saveCells } from '../../src/lib/server/changes/save-cells';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { asOne } from '../../src/lib/server/platform/context';
import { readWorkbook } from '../../src/lib/server/platform/worksheets/read';
import { openFigure } from '../../src/lib/server/reports/traces';
import { planOf, scenarioPackage } from '../../src/lib/server/scenarios/plans';
import { changeSchedule, scheduleDesign } from '../../src/lib/server/schedules/design';
import { importRows } from '../../src/lib/server/schedules/import';
import { saveRows } from '../../src/lib/server/schedules/rows';
import { readSchedule } from '../../src/lib/server/schedules/schedules';
import { rowsWorkbook } from '../../src/lib/server/schedules/workbook';
import { companyArchive } from '../../src/lib/server/transfer/take';
import { DEMO, loaded, refusedIn, secondAnalyst, userOf, readWhatIf } from '../support/company';

const BUDGET = 'fy28-budget';
const APR27 = 2027 * 12 + 3;
const JUL27 = APR27 + 3;
const WINDOW = { scenario: BUDGET, schedule: 'staff', from: APR27, to: APR27 + 11 };
/** Figures that stand nowhere else, and words. */
const ANNUAL = 87654.25;
const RAISE = 0.0789;
const WORDS = 'she asked for more';
/** A year's pay, the raise, and what comes of them in the first month. */
const SECRETS = [ANNUAL, RAISE];

let db: Knex;
/** Sees pay, and one who does not. */
let maren: User;
let noor: User;
let person: string;
let department: string;
let saves: string[];
const by = (user: User) => ({ db, user });

beforeAll(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
	noor = await secondAnalyst(db);
	const { list } = await readSchedule(by(maren), WINDOW);
	const row = list.find((r) => r.values.annual !== undefined && !r.shares)!;
	person = row.id;
	department = String(row.values.department);
	const value = { kind: 'set' as const, id: person };
	await saveRows(by(maren), {
		scenario: BUDGET,
		schedule: 'staff',
		changes: [
			{ ...value, column: 'annual', before: row.values.annual, value: ANNUAL },
			{ ...value, column: 'end', before: row.values.end ?? null, value: '2028-02-29' }
		],
		edits: [{ block: 'staff', line: 'raise', row: person, period: JUL27, before: null, value: RAISE }]
	});
	const plan = await planOf(db, BUDGET);
	for (const line of ['pay', 'tax'])
		SECRETS.push(
			Number(plan.calculation.cell('staff', line, plan.blocks.get('staff')!.rowAt(person), APR27))
		);
	await addNote(
		by(maren),
		BUDGET,
		{ block: 'staff', line: 'raise', row: person, period: '2027-07' },
		WORDS,
		null
	);
	saves = (await savesOf(by(maren), BUDGET)).filter((s) => s.kind === 'schedule').map((s) => s.batch);
});
afterAll(() => db.destroy());

/** Which of the secrets stand anywhere in an answer, as numbers of their own, in texts, or as words. */
function secretsIn(answer: unknown): (number | string)[] {
	const found = new Set<number | string>();
	const seen = new Set<unknown>();
	const near = (v: number) => SECRETS.find((s) => Math.abs(s - v) < 1e-9 * s);
	const look = (v: unknown) => {
		if (typeof v === 'number') {
			const secret = near(v);
			if (secret !== undefined) found.add(secret);
		} else if (typeof v === 'string') {
			if (v.includes(WORDS)) found.add(WORDS);
			for (const number of v.match(/\d+(\.\d+)?/g) ?? []) look(Number(number));
		} else if (v && typeof v === 'object' && !seen.has(v)) {
			seen.add(v);
			if (v instanceof Map) [...v].forEach(look);
			else if (ArrayBuffer.isView(v)) Array.from(v as unknown as ArrayLike<number>).forEach(look);
			else Object.values(v).forEach(look);
		}
	};
	look(answer);
	return [...found];
}
const figure = (line: string, user: User) =>
	openFigure(by(user), BUDGET, { kind: 'line', model: 'staff', line, row: person, period: APR27 });
const account = async (user: User) => {
	const plan = await planOf(db, BUDGET);
	const row = plan.schedules.get('staff')!.rows.find((r) => r.id === person)!;
	const ref = { account: String(row.values.pay_account), department, from: APR27, to: APR27 };
	return openFigure(by(user), BUDGET, { kind: 'account', ...ref });
};
const template = async (user: User) =>
	readWorkbook(Buffer.from((await rowsWorkbook(by(user), BUDGET, 'staff')).content));
const parcel = (user: User, model: string | null) => scenarioPackage(by(user), BUDGET, model);

/** Every door by which somebody who sees schedules is answered. */
const DOORS: Record<string, (user: User) => Promise<unknown>> = {
	'the page of a schedule, with a row opened': (u) => readSchedule(by(u), { ...WINDOW, open: [person] }),
	'the page by a line that tells it': (u) => readSchedule(by(u), { ...WINDOW, line: 'pay' }),
	'its workbook': template,
	'the scenario to be calculated elsewhere': (u) => parcel(u, null),
	'what the schedule is made of': (u) => parcel(u, 'staff_shares'),
	History: (u) => savesOf(by(u), BUDGET),
	'the account to which it is posted': account,
	'a copy as it stood': async (u) => {
		const scenario = await copyAsItStood(by(u), BUDGET, saves[0]);
		return readSchedule(by(u), { ...WINDOW, scenario, open: [person] });
	}
};

describe('individual pay', () => {
	it.each(Object.entries(DOORS))('is in %s for who sees it, and for nobody else', async (_, door) => {
		expect(secretsIn(await door(maren)).length).toBeGreaterThan(0);
		expect(secretsIn(await door(noor))).toEqual([]);
	});
	it('is opened, noted, filtered, designed and taken along by who sees it alone', async () => {
		expect(secretsIn(await figure('pay', maren)).length).toBeGreaterThan(0);
		await figure('fte', noor);
		const cell = { block: 'staff', line: 'raise', row: person, period: '2027-07' };
		expect(secretsIn(await readNotes(by(maren), BUDGET, cell))).toEqual([WORDS]);
		await scheduleDesign(by(maren), BUDGET, 'staff');
		const { bytes } = await companyArchive(by(maren));
		expect(bytes.length).toBeGreaterThan(1000);
		await companyArchive(by(noor), false);
		for (const asked of [
			figure('pay', noor),
			figure('annual', noor),
			figure('raise', noor),
			openFigure(by(noor), BUDGET, {
				kind: 'line',
				model: 'staff_shares',
				line: 'pay',
				row: `${person}|${department}`,
				period: APR27
			}),
			readNotes(by(noor), BUDGET, cell),
			addNote(by(noor), BUDGET, cell, 'x', null),
			scheduleDesign(by(noor), BUDGET, 'staff'),
			companyArchive(by(noor))
		])
			await expect(asked).rejects.toMatchObject({ status: 403 });
		const seen = async (user: User) =>
			(await readSchedule(by(user), { ...WINDOW, where: { annual: String(ANNUAL) } })).shown;
		expect([await seen(maren), await seen(noor)]).toEqual([1, (await readSchedule(by(noor), WINDOW)).count]);
		const found = await readSchedule(by(noor), { ...WINDOW, words: String(ANNUAL) });
		expect(found.shown).toBe(0);
	});
	it('is changed by nobody else, typed, listed, taken back or unmarked', async () => {
		const set = (column: string, before: string | number | null, value: string | number) =>
			saveRows(by(noor), {
				scenario: BUDGET,
				schedule: 'staff',
				changes: [{ kind: 'set', id: person, column, before, value }]
			});
		const { definition, version } = await readSchedule(by(maren), WINDOW);
		const open = {
			...definition,
			columns: definition.columns.map((c) => ({ ...c, personal: undefined }))
		};
		for (const asked of [
			() => set('annual', ANNUAL, 1),
			// What stands there is not found out by guessing.
			() => set('annual', 1, 2),
			() =>
				saveRows(by(noor), {
					scenario: BUDGET,
					schedule: 'staff',
					changes: [
						{
							kind: 'add',
							row: { id: 'new', values: { name: 'N', department, start: '2027-05-01', annual: 1 } }
						}
					]
				}),
			() =>
				asOne(by(noor), (within) =>
					saveCells(within, BUDGET, [
						{ block: 'staff', line: 'raise', row: person, period: JUL27, before: RAISE, value: 0 }
					])
				),
			() => undoSave(by(noor), BUDGET, saves[0]),
			() =>
				changeSchedule(by(noor), {
					scenarios: [BUDGET],
					schedule: 'staff',
					version,
					definition: open,
					drop: false
				})
		])
			expect((await refusedIn(db, asked())).status).toBe(403);
		const list = { scenario: BUDGET, text: `id\tAnnual pay\n${person}\t1`, dry: true };
		expect((await refusedIn(db, importRows(by(noor), 'staff', list))).status).toBe(422);
	});
	it('is not needed to move dates: what follows from them is seen at once, and saved to the same', async () => {
		const typed = {
			kind: 'set',
			id: person,
			column: 'end',
			before: '2028-02-29',
			value: '2027-12-15'
		} as const;
		const query = { schedule: 'staff', line: 'fte', spans: [{ from: APR27 + 8, to: APR27 + 8 }], department };
		const preview = new SchedulePreview(
			packageFromBytes(packageToBytes(await parcel(noor, sharesCode('staff')))),
			'staff'
		);
		const moved = preview.figures({ rows: [typed], months: [] }, query);
		const of = (rows: typeof moved.rows) => rows.find((r) => r.key === person)!.cells[0];
		expect(of(moved.rows)).toBeCloseTo(15 / 31, 12);
		await saveRows(by(noor), { scenario: BUDGET, schedule: 'staff', changes: [typed] });
		const saved = await readSchedule(by(noor), {
			...WINDOW,
			line: 'fte',
			department,
			from: APR27 + 8,
			to: APR27 + 8
		});
		expect(of(saved.rows)).toBe(of(moved.rows));
		expect(saved.line).toBe('fte');
		expect(saved.withheld).toBe(true);
		// The dates are in History for all who see schedules.
		expect(JSON.stringify((await savesOf(by(noor), BUDGET))[0])).toContain('2027-12-15');
	});
	it('is in no what-if for who may not see it: not what is done to it, for whom, nor what comes of it', async () => {
		const what = { scenario: BUDGET };
		const step = {
			operation: 'set' as const,
			value: ANNUAL,
			lines: [{ block: 'staff', line: 'annual' }],
			where: { staff: person }
		};
		const adjustment = { code: 'offer', name: WORDS, on: true, steps: [step], adopted: null };
		const dates = {
			...adjustment,
			code: 'later',
			name: 'Later',
			steps: [
				{ operation: 'shift' as const, periods: 1, lines: [{ block: 'staff', line: 'start' }], where: {} }
			]
		};
		const sales = {
			...adjustment,
			code: 'sales',
			name: 'Sales',
			steps: [
				{
					operation: 'multiply' as const,
					value: 1.1,
					lines: [{ block: 'boat_sales', line: 'units' }],
					where: {}
				}
			]
		};
		for (const own of [adjustment, dates, sales])
			await changeAdjustments(by(maren), BUDGET, { action: 'put', adjustment: own });
		const doors: ((user: User) => Promise<unknown>)[] = [
			(u) => readWhatIf(by(u), BUDGET),
			(u) => readAdjustments(by(u), BUDGET),
			(u) => savesOf(by(u), BUDGET),
			(u) => parcel(u, null),
			(u) => readSchedule(by(u), { ...WINDOW, ...what, open: [person] })
		];
		for (const door of doors) {
			expect(secretsIn(await door(maren)).length).toBeGreaterThan(0);
			expect(secretsIn(await door(noor))).toEqual([]);
		}
		const seen = await readWhatIf(by(noor), BUDGET);
		expect(seen).toMatchObject({ kept: 2, adjustments: [{ code: 'sales' }] });
		expect(seen.adjustables.map((a) => a.block)).not.toContain('staff');
		expect((await readWhatIf(by(maren), BUDGET)).kept).toBe(0);
		const refused = async (asked: () => Promise<unknown>) => (await refusedIn(db, asked())).status;
		const change = (user: User, wanted: AdjustmentChange) => () =>
			changeAdjustments(by(user), BUDGET, wanted);
		const [save] = (await savesOf(by(maren), BUDGET)).filter((s) => s.kind === 'adjustment').slice(-1);
		for (const asked of [
			change(noor, { action: 'put', adjustment: { ...dates, code: 'mine', name: 'Mine' } }),
			change(noor, { action: 'put', adjustment: { ...sales, code: 'offer' } }),
			change(noor, { action: 'switch', code: 'offer', on: false }),
			change(noor, { action: 'move', code: 'later', to: 0 }),
			change(noor, { action: 'remove', code: 'offer' }),
			() => adoptAdjustments(by(noor), BUDGET, ['offer']),
			() => undoSave(by(noor), BUDGET, save.batch)
		])
			expect(await refused(asked)).toBe(403);
		// Places are counted among those that are seen.
		await changeAdjustments(by(noor), BUDGET, { action: 'move', code: 'sales', to: 0 });
		await changeAdjustments(by(noor), BUDGET, { action: 'switch', code: 'sales', on: false });
		for (const code of ['offer', 'later', 'sales'])
			await changeAdjustments(by(maren), BUDGET, { action: 'remove', code });
	});
	it('leaves the accounts of scenarios what they are', async () => {
		for (const scenario of [BUDGET, 'fy27-forecast-6-6']) {
			const plan = await planOf(db, scenario);
			const { structure, data } = unpackScenario(
				packageFromBytes(packageToBytes(await scenarioPackage(by(noor), scenario)))
			);
			const { calculation } = calculateScenario(structure, data);
			for (const { code } of plan.calculation.block(ACCOUNTS_BLOCK).lines) {
				const [a, b] = [plan.calculation, calculation].map((c) => c.matrix(ACCOUNTS_BLOCK, code).values);
				expect(
					a.every((v, i) => Math.abs(v - b[i]) < 1e-6),
					code
				).toBe(true);
			}
		}
	});
	it('is one amount on the account of its other side, which still comes to what stands there', async () => {
		const { definition, version } = await scheduleDesign(by(maren), BUDGET, 'staff');
		await changeSchedule(by(maren), {
			scenarios: [BUDGET],
			schedule: 'staff',
			version: version!,
			definition: {
				...definition,
				postings: definition.postings.map((p) => (p.line === 'pay' ? { ...p, other: { code: '1000' } } : p))
			},
			drop: false
		});
		const cash = (user: User) =>
			openFigure(by(user), BUDGET, { kind: 'account', account: '1000', department, from: APR27, to: APR27 });
		expect(secretsIn(await cash(maren)).length).toBeGreaterThan(0);
		const told = await cash(noor);
		expect(secretsIn(told)).toEqual([]);
		const [posted] = told.trace.explanations;
		const parts = posted.kind === 'posted' ? posted.parts : [];
		expect(parts.some((p) => p.name.startsWith('Staff') && p.ref === null)).toBe(true);
		const sum = parts.reduce((s, p) => s + p.sign * Number(p.value), 0);
		expect(sum).toBeLessThan(-1000);
		expect(sum).toBeCloseTo(Number(told.trace.value), 6);
	});
});
