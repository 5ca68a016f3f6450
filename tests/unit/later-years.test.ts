/** Scenarios whose later years are divided more coarsely than into months: made, typed, told, compared, filed. */
import { readFileSync } from 'node:fs';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Driver } from '../../src/lib/core/analysis/driver';
import type { LaterYears } from '../../src/lib/core/calendar/spec';
import { isBalance } from '../../src/lib/core/company/sign';
import type { Beginning } from '../../src/lib/core/scenario/schema';
import { ACCOUNTS_BLOCK } from '../../src/lib/core/engine/spec';
import { overTime } from '../../src/lib/core/statements/statement';
import { totalsOf } from '../../src/lib/core/statements/totals';
import { readDepartmentPlan } from '../../src/lib/server/accounts/department-plan';
import { previewWritten, readUnder } from '../../src/lib/server/accounts/plan-parts';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { readCompany, readStored, writeCompany } from '../../src/lib/server/company/subjects';
import { newBatch } from '../../src/lib/server/company/journal';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { varianceReport } from '../../src/lib/server/reports/variance';
import { openWritten } from '../../src/lib/server/reports/traces';
import { previewFeed, runFeed } from '../../src/lib/server/ledger/feed';
import { touchCompany } from '../../src/lib/server/company/structure';
import { closeMonth } from '../../src/lib/server/scenarios/close';
import { getScenario } from '../../src/lib/server/scenarios/scenarios';
import { saveWritten } from '../../src/lib/server/changes/save-cells';
import { changeScenario } from '../../src/lib/server/scenarios/list';
import { readBases } from '../../src/lib/server/company/subjects/scenario/bases';
import { readSeries } from '../../src/lib/server/company/subjects/scenario/values';
import { copyScenario, type CopyPeriods } from '../../src/lib/server/scenarios/making';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { loadCompany } from '../../src/lib/server/transfer/load';
import { accountCell, contentOf, loaded, PRAXIS, refusedIn, userOf } from '../support/company';

const F2 = 'f2';
const month = (key: string) => Number(key.slice(0, 4)) * 12 + Number(key.slice(5)) - 1;
const END = month('2030-12');
/** 2028 by quarters, then years. */
const LATER: LaterYears = { firstYear: 2028, grains: ['quarter', 'year'] };
let db: Knex;
let ana: User;
let coarse: string;
let fine: string;
beforeEach(async () => {
	db = await loaded(PRAXIS);
	ana = await userOf(db, 'ana');
	fine = await copyScenario({ db, user: ana }, F2, 'All in months', 'long-range', false, { last: END });
	coarse = await copyScenario({ db, user: ana }, F2, 'Long range', 'long-range', false, {
		last: END,
		laterYears: LATER
	});
});
afterEach(() => db.destroy());

const refused = (work: Promise<unknown>) => refusedIn(db, work);
/** What an account comes to in a fiscal year, in a department. */
async function inYear(scenario: string, account: string, department: string, year: number) {
	const plan = await planOf(db, scenario);
	const { calendar } = plan.structure;
	const series = totalsOf(plan).of(account, department);
	return overTime(series, calendar.yearStart(year), calendar.yearStart(year + 1) - 1);
}
async function cell(account: string, department: string, key: string) {
	const plan = await planOf(db, coarse);
	const row = plan.accounts.rowAt(department);
	return plan.calculation.cell(ACCOUNTS_BLOCK, account, row, plan.structure.calendar.parse(key)!);
}

describe('a copy that begins without figures', () => {
	const make = (begins: Beginning, periods: CopyPeriods = { last: END, laterYears: LATER }) =>
		copyScenario({ db, user: ana }, F2, `Begins with ${begins.with}`, 'long-range', false, periods, begins);

	it('grows each account by so much a year, in months and in years, without driver models', async () => {
		const grown = await make({ with: 'growth', share: 0.05 });
		const plan = await planOf(db, grown);
		expect(plan.models.size).toBe(0);
		const { accounts, departments } = plan.structure;
		const departmentsAll = departments.leaves(departments.roots[0].code);
		let seen = 0;
		for (const account of accounts.all.filter((a) => !isBalance(a.type) && accounts.isLeaf(a.code)))
			for (const { code } of departmentsAll) {
				const years = [];
				for (const year of [2027, 2028, 2029, 2030])
					years.push(((await inYear(grown, account.code, code, year)) as number | null) ?? 0);
				const share = account.format === 'money' ? 1.05 : 1;
				for (let y = 1; y < years.length; y++) {
					expect(years[y], `${account.code} in ${code}`).toBeCloseTo(years[y - 1] * share, 6);
					if (years[y] !== 0) seen++;
				}
			}
		expect(seen).toBeGreaterThan(12);
		const stored = await readStored(db);
		expect(readCompany(writeCompany(stored))).toEqual(stored);
	});
	it('keeps driver models and bases, with nothing typed; formulas and bases go on', async () => {
		const blank = await make({ with: 'nothing typed' });
		const [own, from] = [await planOf(db, blank), await planOf(db, F2)];
		expect([...own.models.keys()]).toEqual([...from.models.keys()]);
		expect(await readSeries(db, blank)).toEqual([]);
		expect(await readBases(db, blank)).toEqual(await readBases(db, F2));
		expect((await readSeries(db, F2)).length).toBeGreaterThan(0);
	});
	it('is no target, and has no notes', async () => {
		const target = copyScenario({ db, user: ana }, F2, 'T', 'target', false, {}, { with: 'nothing typed' });
		expect((await refused(target)).message).toMatch(/Targets begin with the figures/);
		const noted = copyScenario({ db, user: ana }, F2, 'N', 'forecast', true, {}, { with: 'nothing typed' });
		expect((await refused(noted)).message).toMatch(/Notes and items go with the figures/);
	});
});

describe('a copy that is coarser in later years', () => {
	it('has what every account comes to in each year, typed, by bases and posted', async () => {
		for (const [account, department] of [
			['wages', 'labor'],
			['lab', 'labor'],
			['rent', 'office'],
			['fees', 'praxis']
		])
			for (const year of [2026, 2027, 2028, 2029, 2030])
				expect(await inYear(coarse, account, department, year), `${account} ${year}`).toBeCloseTo(
					(await inYear(fine, account, department, year)) as number,
					4
				);
		expect(await cell('wages', 'labor', '2028-Q1')).toBeCloseTo(3 * 8100.05, 8);
		expect(await cell('wages', 'labor', '2030-FY')).toBeCloseTo(12 * 8100.05, 8);
	});

	it('is refused too early, shorter, as targets, and in what is no order of years', async () => {
		const copy = (kind: 'long-range' | 'target', periods: { last?: number; laterYears?: LaterYears }) =>
			refused(copyScenario({ db, user: ana }, F2, 'Other', kind, false, periods));
		const early = await copy('long-range', { laterYears: { firstYear: 2026, grains: ['year'] } });
		expect(early.message).toMatch(/later years begin with FY27 or after it/);
		expect((await copy('long-range', { last: month('2026-12') })).message).toMatch(/as far as/);
		expect((await copy('target', { last: END })).message).toMatch(/Targets have the periods/);
		expect((await copy('long-range', { last: month('2036-12') })).message).toMatch(/at most 10 years/);
	});

	it('is made longer in its own periods, and copied with them', async () => {
		await changeScenario({ db, user: ana }, coarse, { last: month('2032-12') });
		expect(await cell('wages', 'labor', '2032-FY')).toBeCloseTo(12 * 8100.05, 6);
		const again = await copyScenario({ db, user: ana }, coarse, 'Again', 'what-if');
		expect(await inYear(again, 'wages', 'labor', 2032)).toBeCloseTo(12 * 8100.05, 6);
		const targets = await copyScenario({ db, user: ana }, coarse, 'Targets', 'target');
		expect(await inYear(targets, 'wages', 'labor', 2028)).toBeCloseTo(12 * 8100.05, 6);
	});
});

describe('closing a month', () => {
	it('goes on in the same periods, and never into a coarse year: that one is in months by then', async () => {
		const from = await copyScenario({ db, user: ana }, F2, 'Rolling', 'forecast', false, {
			last: END,
			laterYears: { firstYear: 2027, grains: ['quarter', 'year'] }
		});
		const march = readFileSync('tests/companies/praxis-2026-03.csv', 'utf8');
		const { options, month: loadedMonth } = await previewFeed(
			{ db, user: ana },
			'march.csv',
			march,
			null,
			{}
		);
		await runFeed({ db, user: ana }, 'march.csv', march, options, loadedMonth!, {});
		const close = (name: string, of: string, closing: number) =>
			closeMonth(
				{ db, user: ana },
				{
					month: closing,
					from: of,
					name,
					accounts: 'year-ago',
					followers: [],
					despiteUnmapped: true
				}
			);
		const next = await close('3+9', from, month('2026-03'));
		expect((await getScenario(db, next)).laterYears).toEqual({
			firstYear: 2027,
			grains: ['quarter', 'year']
		});
		for (const year of [2027, 2029])
			expect(await inYear(next, 'wages', 'labor', year)).toBeCloseTo(12 * 8100.05, 6);
		// The same rows stand in for the months up to the end of the year.
		for (let m = month('2026-04'); m <= month('2026-12'); m++) {
			await db('ledger_entry').insert(
				(await db('ledger_entry').where({ period: month('2026-03') })).map(({ id: _, ...e }) => ({
					...e,
					period: m,
					date: `2026-${String((m % 12) + 1).padStart(2, '0')}-15`
				}))
			);
			await db('ledger_month').insert(
				(await db('ledger_month').where({ period: month('2026-03') })).map((t) => ({ ...t, period: m }))
			);
		}
		await db.transaction(touchCompany);
		let last = next;
		for (let m = month('2026-04'); m <= month('2026-12'); m++) last = await close(`through ${m}`, last, m);
		expect((await getScenario(db, last)).laterYears).toEqual({ firstYear: 2028, grains: ['year'] });
		// What was typed for quarters of 2027 is divided into its months by days.
		const plan = await planOf(db, last);
		const wages = plan.calculation.cell(
			ACCOUNTS_BLOCK,
			'wages',
			plan.accounts.rowAt('labor'),
			month('2027-02')
		);
		expect(wages).toBeCloseTo((3 * 8100.05 * 28) / 90, 6);
		expect(await inYear(last, 'wages', 'labor', 2027)).toBeCloseTo(12 * 8100.05, 6);
	});
});

describe('its figures', () => {
	const edit = (period: string, before: number | null, value: number | null) => ({
		account: 'wages',
		department: 'labor',
		period,
		before,
		value
	});
	const type = async (...edits: ReturnType<typeof edit>[]) =>
		saveWritten({ db, user: ana }, coarse, edits.map(accountCell), newBatch());
	const QUARTER = 3 * 8100.05;

	it('are typed in the periods they stand in, told as such, and taken back', async () => {
		const wrong = await refused(type(edit('2028-02', null, 1)));
		expect(wrong.faults).toEqual([
			{ column: 'edits.0.period', message: '“2028-02” is no period such as 2028-Q1' }
		]);
		expect((await refused(type(edit('2031-FY', null, 1)))).message).toMatch(/beyond the scenario’s last/);
		const [was] = [(await cell('wages', 'labor', '2028-Q1')) as number];
		await type(
			edit('2028-Q1', was, 30_000),
			edit('2029-FY', (await cell('wages', 'labor', '2029-FY')) as number, 100_000)
		);
		expect([await cell('wages', 'labor', '2028-Q1'), await cell('wages', 'labor', '2029-FY')]).toEqual([
			30_000, 100_000
		]);
		const [save] = await savesOf({ db, user: ana }, coarse);
		expect(save.changes.map((c) => c.words.place)).toEqual([
			'Wages, Laboratory, Q1 FY28',
			'Wages, Laboratory, FY29'
		]);
		await undoSave({ db, user: ana }, coarse, save.batch);
		expect(await cell('wages', 'labor', '2028-Q1')).toBe(was);
	});

	it('are shown in their own periods, and beside those in theirs', async () => {
		const window = [month('2027-10'), month('2029-12')] as const;
		const own = await readDepartmentPlan({ db, user: ana }, coarse, 'labor', ...window);
		const wages = (of: typeof own) => of.rows.find((r) => r.account === 'wages')!;
		// October to December 2027, four quarters, one year.
		expect(wages(own).cells).toHaveLength(3 + 4 + 1);
		expect(wages(own).cells[3]).toBeCloseTo(QUARTER, 8);
		expect(wages(own).lastYear).toBeCloseTo(27 * 8100.05, 6);
		const beside = await readDepartmentPlan({ db, user: ana }, fine, 'labor', ...window, coarse);
		expect(wages(beside).cells).toHaveLength(8);
		wages(beside).cells.forEach((c, i) => expect(c).toBeCloseTo(wages(own).cells[i] as number, 6));
		expect(wages(beside).typed).toBeNull();
		const asked = { scenario: coarse, from: window[0], to: window[1], department: 'labor' };
		const [under] = await readUnder({ db, user: ana }, { ...asked, account: 'wages' });
		expect(under.cells).toHaveLength(8);
		const preview = await previewWritten(
			{ db, user: ana },
			{ scenario: coarse, from: window[0], to: window[1] },
			[{ block: ACCOUNTS_BLOCK, line: 'wages', row: 'labor', period: '2028-Q2', value: 1 }],
			[{ department: 'labor', accounts: null }]
		);
		expect(preview.find((r) => r.account === 'wages')!.cells[4]).toBe(1);
	});

	it('are compared with those of months, by days where a month is asked for', async () => {
		const report = (span: 'month' | 'year', period: string) =>
			varianceReport(
				{ db, user: ana },
				{
					scenario: fine,
					against: coarse,
					department: 'labor',
					period: month(period),
					span,
					leap: 'with',
					threshold: { amount: 0, percent: 0 }
				}
			);
		const wages = async (span: 'month' | 'year', period: string) =>
			(await report(span, period)).rows.find((r) => r.account === 'wages')!;
		expect((await wages('year', '2029-05')).difference).toBeCloseTo(0, 4);
		// 2028 is a leap year: 31 days of 91.
		expect((await wages('month', '2028-01')).b).toBeCloseTo((QUARTER * 31) / 91, 6);
	});

	it('are moved by a driver over the months it is given', async () => {
		const plan = await planOf(db, coarse);
		const span = { from: month('2028-01'), to: month('2028-12') };
		const scope = { block: 'visits', line: 'patients', where: {}, ...span };
		const { calendar } = plan.structure;
		const quarters = ['Q1', 'Q2', 'Q3', 'Q4'].flatMap((q) =>
			[0, 1].map(
				(r) => plan.calculation.cell('visits', 'patients', r, calendar.parse(`2028-${q}`)!) as number
			)
		);
		expect(new Driver(plan, scope).mean).toBeCloseTo(quarters.reduce((a, b) => a + b) / quarters.length, 8);
	});

	it('are opened by their period', async () => {
		const ref = { kind: 'account', account: 'wages', department: 'labor', from: '2028-Q1', to: '2028-Q1' };
		const view = await openWritten({ db, user: ana }, coarse, ref);
		expect(view.place).toBe('Q1 FY28 · Laboratory');
		expect(view.trace.value).toBeCloseTo(QUARTER, 8);
	});

	it('go into a folder and come out of it', async () => {
		const files = writeCompany(await readStored(db));
		expect(files.get('scenarios.csv')).toMatch(/2028:quarter;year/);
		expect(files.get(`scenarios/${coarse}/values.csv`)).toMatch(
			/,2027-12,2028-Q1,.*,2028-Q4,2029-FY,2030-FY/
		);
		const again = await openDatabase(':memory:');
		await loadCompany(again, readCompany(files));
		expect(await contentOf(again)).toBe(await contentOf(db));
		await again.destroy();
		const bad = new Map(files);
		bad.set('scenarios.csv', files.get('scenarios.csv')!.replace('2028:quarter;year', '2028:year;quarter'));
		expect(() => readCompany(bad)).toThrow();
	});
});
