/** Schedules of a company: filed, stored, copied with their scenario, typed into, and seen by those who may. */
import { readFileSync } from 'node:fs';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ACCOUNTS_BLOCK } from '../../src/lib/core/engine/spec';
import { calculateScenario } from '../../src/lib/core/scenario/assemble';
import { packageToBytes, unpackScenario } from '../../src/lib/core/scenario/package';
import type { Explanation } from '../../src/lib/core/explain/trace';
import { saveWritten } from '../../src/lib/server/changes/save-cells';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { previewFeed, runFeed } from '../../src/lib/server/ledger/feed';
import { newBatch } from '../../src/lib/server/company/journal';
import { readCompany, readStored, storeCompany, writeCompany } from '../../src/lib/server/company/subjects';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { refusalOf } from '../../src/lib/server/platform/refusal';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { openFigure } from '../../src/lib/server/reports/traces';
import { closeMonth } from '../../src/lib/server/scenarios/close';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import { BY_COLUMN, SCHEDULE_PERIODS } from '../../src/lib/core/views/written';
import { inCompanyWriting } from '../../src/lib/server/doors/writing';
import { planOf, scenarioPackage } from '../../src/lib/server/scenarios/plans';
import { unsoundIn } from '../../src/lib/server/scenarios/soundness';
import { withoutFigures } from '../../src/lib/server/transfer/without-figures';
import { refusedIn, userOf, readWhatIf } from '../support/company';
import { F2, rentalFiles, RENTALS, ROWS } from '../support/rentals';

let db: Knex;
let ana: User;
beforeEach(async () => {
	db = await openDatabase(':memory:');
	await storeCompany(db, readCompany(rentalFiles()));
	ana = await userOf(db, 'ana');
});
afterEach(() => db.destroy());

async function rent(scenario: string, department: string, month: string) {
	const plan = await planOf(db, scenario);
	const period = plan.structure.calendar.parse(month)!;
	return plan.calculation.cell(ACCOUNTS_BLOCK, 'rent', plan.accounts.rowAt(department), period);
}
const type = (scenario: string, block: string, line: string, row: string, period: string, value: number) =>
	saveWritten({ db, user: ana }, scenario, [{ block, line, row, period, before: null, value }], newBatch());

describe('schedules', () => {
	it('come out of the folder as they went in, and out of the database', async () => {
		const stored = await readStored(db);
		const folder = writeCompany(stored);
		expect(readCompany(folder)).toEqual(stored);
		expect(stored.schedules).toEqual([RENTALS]);
		expect(folder.get('scenarios/f2/schedules/rentals.csv')!.trim().split('\n')).toEqual(ROWS);
		expect(folder.has('scenarios/f2/schedules/rentals.json')).toBe(false);
		expect(folder.has('scenarios/b26/schedules/rentals.csv')).toBe(false);
		expect(await unsoundIn(db, F2)).toEqual([]);
	});
	it('post what rows cost to the accounts of their departments', async () => {
		expect(await rent(F2, 'labor', '2026-04')).toBe(100);
		// A room of which both departments have all of it, until shares are typed.
		expect([await rent(F2, 'labor', '2026-05'), await rent(F2, 'praxis', '2026-05')]).toEqual([2100, 2000]);
		await type(F2, 'rentals_shares', 'share', 'r2|labor', '2026-05', 0.25);
		await type(F2, 'rentals_shares', 'share', 'r2|praxis', '2026-05', 0.75);
		expect([await rent(F2, 'labor', '2026-05'), await rent(F2, 'praxis', '2026-05')]).toEqual([600, 1500]);
	});
	it('leave a company without its figures as forms without rows', async () => {
		await type(F2, 'rentals', 'extra', 'r1', '2026-06', 40);
		const stored = await readStored(db);
		expect(readCompany(writeCompany(stored))).toEqual(stored);
		// The practice's budget has none; its forecast is the plan to begin with here.
		const blank = withoutFigures({
			...stored,
			scenarios: stored.scenarios.filter((s) => s.scenario.code === F2)
		});
		const folder = writeCompany(blank);
		expect(readCompany(folder)).toEqual(blank);
		expect(blank.schedules).toEqual([RENTALS]);
		expect([...folder.values()].join()).not.toMatch(/Microscope|X-ray/);
	});
	it('go along with a copy and a closed month, and are independent there', async () => {
		await type(F2, 'rentals', 'extra', 'r1', '2026-06', 40);
		const copy = await copyScenario({ db, user: ana }, F2, 'Another', 'forecast');
		await type(copy, 'rentals', 'extra', 'r1', '2026-07', 7);
		expect([await rent(copy, 'labor', '2026-06'), await rent(copy, 'labor', '2026-07')]).toEqual([
			2140, 2107
		]);
		expect(await rent(F2, 'labor', '2026-07')).toBe(2100);
		await db('schedule_row').where({ scenario: copy, id: 'r2' }).delete();
		expect(
			(await readStored(db)).scenarios.find((s) => s.scenario.code === F2)!.scheduleRows[0].rows
		).toHaveLength(2);
	});
	it('are typed into where they can be, kept in the journal, and taken back', async () => {
		await type(F2, 'rentals', 'extra', 'r1', '2026-06', 40);
		expect(await rent(F2, 'labor', '2026-06')).toBe(2140);
		const [save] = await savesOf({ db, user: ana }, F2);
		await undoSave({ db, user: ana }, F2, save.batch);
		expect(await rent(F2, 'labor', '2026-06')).toBe(2100);
		const fails = async (line: string, row: string, period: string, message: RegExp) =>
			expect((await refusedIn(db, type(F2, 'rentals', line, row, period, 1))).message).toMatch(message);
		await fails('cost', 'r1', '2026-06', /“cost” is calculated and takes no values/);
		await fails('extra', 'r9', '2026-06', /“r9” is no row of the schedule/);
		await fails('extra', 'r1', '2026-02', /February 2026 is closed/);
	});
	it('are opened row by row by whoever reads the department, and by nobody else', async () => {
		const ref = {
			kind: 'account' as const,
			account: 'rent',
			department: 'labor',
			from: 2026 * 12 + 4,
			to: 2026 * 12 + 4
		};
		const parts = async (user: User) => {
			const { trace } = await openFigure({ db, user }, F2, ref);
			const posted = trace.explanations.find(
				(e): e is Explanation & { kind: 'posted' } => e.kind === 'posted'
			)!;
			return posted.parts;
		};
		const own = await parts(ana);
		expect(own.map((p) => [p.name, p.value])).toEqual([
			['X-ray room · Laboratory', 2000],
			['Microscope · Laboratory', 100]
		]);
		const opened = await openFigure({ db, user: ana }, F2, own[1].ref!);
		expect(opened.place).toBe('May 2026 · Microscope · Laboratory · Rentals, by department');
		for (const email of ['urs', 'rita']) {
			const user = await userOf(db, email);
			expect(await parts(user)).toEqual(own);
			expect((await openFigure({ db, user }, F2, own[1].ref!)).place).toBe(opened.place);
		}
		const user = { ...(await userOf(db, 'urs')), departments: ['office'] };
		const refused = await refusedIn(db, openFigure({ db, user }, F2, own[0].ref!));
		expect([refused.status, refused.message]).toEqual([
			403,
			'This row of Rentals counts in no department that you read.'
		]);
	});
	it('leave the server with the rest of a scenario for those alone who may see them', async () => {
		const rita = await userOf(db, 'rita');
		expect((await scenarioPackage({ db, user: ana }, F2)).data.schedules![0].rows).toHaveLength(2);
		await type(F2, 'rentals', 'extra', 'r1', '2026-06', 40);
		await type(F2, 'rentals_shares', 'share', 'r2|labor', '2026-07', 0.25);
		await type(F2, 'rentals_shares', 'share', 'r2|praxis', '2026-07', 0.7);
		// Others get what rows come to, and the same accounts; nothing of a row.
		const theirs = await scenarioPackage({ db, user: rita }, F2);
		expect(new TextDecoder().decode(packageToBytes(theirs))).not.toMatch(/Microscope|X-ray|r2\|/);
		const parcel = unpackScenario(theirs);
		const [own, calculated] = [await planOf(db, F2), calculateScenario(parcel.structure, parcel.data)];
		for (const account of own.structure.accounts.all)
			if (own.structure.accounts.isLeaf(account.code))
				for (let period = own.open; period <= own.scenario.last; period++)
					own.structure.departmentRows.forEach((_, row) => {
						const [a, b] = [own, calculated].map((p) =>
							p.calculation.cell(ACCOUNTS_BLOCK, account.code, row, period)
						);
						if (typeof a === 'number') expect(b).toBeCloseTo(a, 9);
						else expect(b ?? 0).toBe(a ?? 0);
					});
		// A model that reads none of it goes without their rows.
		const part = await scenarioPackage({ db, user: rita }, F2, 'visits');
		expect(part.data.schedules!.flatMap((s) => s.rows)).toEqual([]);
		const blocks = async (user: User) => (await readWhatIf({ db, user }, F2)).adjustables.map((a) => a.block);
		expect(await blocks(ana)).toContain('rentals');
		expect(await blocks(rita)).not.toContain('rentals');
	});
	it('are answered in the calendar’s writing, but for what columns hold, whatever they are called', async () => {
		const list = [{ id: 'r1', values: { open: 5, last: 3 } }];
		const answer = { open: 24315, list, rows: [{ unshared: { first: 24316 }, computed: { first: 7 } }] };
		expect(await inCompanyWriting(db, answer, SCHEDULE_PERIODS, BY_COLUMN)).toEqual({
			open: '2026-04',
			list,
			rows: [{ unshared: { first: '2026-05' }, computed: { first: 7 } }]
		});
	});
	it('are refused with file, row and column where something of them does not fit', () => {
		const fault = (change: Record<string, string>) => {
			try {
				readCompany(rentalFiles(change));
			} catch (e) {
				const [{ file, row, column, message }] = refusalOf(e)!.faults;
				return `${file} ${row ?? ''} ${column}: ${message}`;
			}
			return null;
		};
		const rows = (...lines: string[]) => ({
			'scenarios/f2/schedules/rentals.csv': [ROWS[0], ...lines].join('\n') + '\n'
		});
		const form = (change: object) => ({
			'schedules/rentals.json': JSON.stringify({ ...RENTALS, ...change })
		});
		const at = 'scenarios/f2/schedules/rentals.csv';
		expect(fault({})).toBeNull();
		expect(fault(rows('r1,,M,labor,much,2026-01-01,,,'))).toBe(
			`${at} 2 yearly: “much” was found; a number such as 1234.56 was expected`
		);
		expect(fault(rows(ROWS[1], 'r1,,M,labor,1,2026-01-01,,,'))).toBe(`${at} 3 id: “r1” stands twice`);
		expect(fault(rows('r1,,M,labor,1,2026-05-01,2026-04-30,,'))).toBe(
			`${at} 2 end: “Until” is before “From”`
		);
		expect(fault(rows('r1,gone,M,labor,1,2026-05-01,,,'))).toBe(
			`${at} 2 shares: “gone” is no department that takes figures`
		);
		expect(fault(form({ postings: [{ line: 'cost', account: { code: 'result' } }] }))).toMatch(
			/^schedules\/rentals\.json {2}postings\.1\.account: “Result” is a total/
		);
		expect(fault({ 'schedules.csv': 'code\nrental\n' })).toMatch(/^schedules\/rental\.json .*is missing/);
	});
	it('go on when a month is closed', async () => {
		const march = { db, user: ana };
		const content = readFileSync('tests/companies/praxis-2026-03.csv', 'utf8');
		const { options, month } = await previewFeed(march, 'march.csv', content, null, {});
		await runFeed(march, 'march.csv', content, options, month!, {});
		const made = await closeMonth(march, {
			month: month!,
			from: F2,
			name: 'FY26 Forecast 3+9',
			accounts: 'year-ago',
			followers: [],
			despiteUnmapped: true
		});
		expect(await rent(made, 'labor', '2026-05')).toBe(2100);
	});
});
