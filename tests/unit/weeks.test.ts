/**
 * Companies whose years are whole weeks: every figure is worked out in the test from the raw rows, by days, without the
 * product's calendar.
 */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ACCOUNTS_BLOCK } from '../../src/lib/core/engine/spec';
import { companyState } from '../../src/lib/server/company/structure';
import { readCompany, readStored, writeCompany } from '../../src/lib/server/company/subjects';
import { previewFeed, runFeed } from '../../src/lib/server/ledger/feed';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { Refusal } from '../../src/lib/server/platform/refusal';
import { varianceReport } from '../../src/lib/server/reports/variance';
import { varianceCsv } from '../../src/lib/server/reports/variance-file';
import { closeMonth, proposeClose, reopenMonth } from '../../src/lib/server/scenarios/close';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { loadCompany } from '../../src/lib/server/transfer/load';
import { contentOf, userOf } from '../support/company';
import {
	actual,
	entriesFile,
	PRICES,
	PRODUCTS,
	QUARTERS_OF_WEEKS,
	rawPeriods,
	SINGLE_WEEKS,
	THIRTEEN,
	typedDrops,
	typedWages,
	weeksCompany,
	type Weeks
} from '../support/weeks-company';

let db: Knex;
let ida: User;
beforeEach(() => vi.stubEnv('YARDSTAVE_TODAY', '2028-09-20'));
afterEach(async () => {
	vi.unstubAllEnvs();
	await db.destroy();
});

async function open(weeks: Weeks, through: string) {
	db = await openDatabase(':memory:');
	await loadCompany(db, readCompany(weeksCompany(weeks, through)));
	ida = await userOf(db, 'ida');
	const periods = rawPeriods(weeks);
	const at = new Map(periods.map((p, i) => [p.key, i]));
	const before = (key: string) => `${Number(key.slice(0, 4)) - 1}${key.slice(4)}`;
	/** The same place in the year before, of a 53rd week the 52nd. */
	const yearBefore = (key: string) => (at.has(before(key)) ? before(key) : before(key).replace('53', '52'));
	const of = (account: string, key: string) => {
		const p = periods[at.get(key)!];
		return actual(account, p.first, p.last);
	};
	return { periods, at, yearBefore, of };
}

/** What is shown for an account in a department. */
async function cells(scenario: string, account: string, department: string, keys: readonly string[]) {
	const plan = await planOf(db, scenario);
	const { calendar, departmentRow } = plan.structure;
	const row = departmentRow.get(department)!;
	return keys.map((k) => plan.calculation.cell(ACCOUNTS_BLOCK, account, row, calendar.parse(k)!));
}

/**
 * What each account has to hold, by the basis that it has, where actuals are closed through a period.
 * @param typed the period whose typed values stand in one; those that a longer window opens take the year before
 */
function expected(
	{ periods, at, yearBefore, of }: Awaited<ReturnType<typeof open>>,
	through: string,
	typed: (key: string) => string
) {
	const place = (key: string) => Number(typed(key).slice(-2)) - 1;
	const drops = (key: string) => PRODUCTS.map((_, i) => typedDrops(i, place(key)));
	const closed = (key: string) => at.get(key)! <= at.get(through)!;
	const sales = (key: string) =>
		closed(key) ? of('sales', key) : drops(key).reduce((sum, d, i) => sum + d * PRICES[i], 0);
	const rent = (key: string): number => (closed(key) ? of('rent', key) : rent(yearBefore(key)) * 1.03);
	const lastThree = periods.slice(at.get(through)! - 2, at.get(through)! + 1);
	return {
		'sales/shop': sales,
		'rent/ovens': rent,
		'wages/ovens': (key: string) => (closed(key) ? of('wages', key) : typedWages(place(key))),
		'flour/shop': (key: string) => (closed(key) ? of('flour', key) : sales(key) * 0.3),
		'energy/ovens': (key: string) =>
			closed(key) ? of('energy', key) : lastThree.reduce((sum, p) => sum + of('energy', p.key), 0) / 3,
		'delivery/shop': (key: string) =>
			closed(key) ? of('delivery', key) : drops(key).reduce((a, b) => a + b) * 0.45
	};
}

async function expectPlan(
	scenario: string,
	company: Awaited<ReturnType<typeof open>>,
	through: string,
	last: string,
	typed: (key: string) => string = (key) => key
) {
	const { periods, at } = company;
	const keys = periods.slice(at.get(through)! - 15, at.get(last)! + 1).map((p) => p.key);
	for (const [place, value] of Object.entries(expected(company, through, typed))) {
		const [account, department] = place.split('/');
		const found = await cells(scenario, account, department, keys);
		keys.forEach((k, i) => expect(found[i], `${scenario} ${place} ${k}`).toBeCloseTo(value(k), 6));
	}
}

async function load(company: Awaited<ReturnType<typeof open>>, key: string) {
	const content = entriesFile(company.periods[company.at.get(key)!]);
	const { calendar } = await companyState(db);
	const preview = await previewFeed({ db, user: ida }, `${key}.csv`, content, null, {});
	expect(preview.faults).toEqual([]);
	expect(preview.month).toBe(calendar.parse(key));
	await runFeed({ db, user: ida }, `${key}.csv`, content, preview.options, preview.month!, {});
}

async function close(from: string, key: string, accounts: 'year-ago' | 'last' | 'blank' = 'year-ago') {
	const proposal = await proposeClose({ db, user: ida });
	const { calendar } = await companyState(db);
	expect(proposal.month).toBe(calendar.parse(key));
	const { name } = proposal;
	const month = proposal.month!;
	const code = await closeMonth(
		{ db, user: ida },
		{
			month,
			from,
			name,
			accounts,
			followers: [],
			despiteUnmapped: false
		}
	);
	return { code, name, last: calendar.key((await planOf(db, code)).scenario.last) };
}

describe('a company on quarters of 4, 4 and 5 weeks', () => {
	it('plans by every basis, in a budget and in a forecast', async () => {
		const company = await open(QUARTERS_OF_WEEKS, '2028-P10');
		await expectPlan('forecast', company, '2028-P10', '2029-P10');
		await expectPlan('budget', company, '2027-P12', '2029-P12');
	});

	it('feeds and closes two periods, up to and across the leap week', async () => {
		const company = await open(QUARTERS_OF_WEEKS, '2028-P10');
		await load(company, '2028-P11');
		const eleven = await close('forecast', '2028-P11');
		expect(eleven).toMatchObject({ name: 'FY28 Forecast 11+1', last: '2029-P11' });
		// What the longer window opens is as the year before it.
		const carried = (key: string) => (key > '2029-P10' ? key.replace('2029', '2028') : key);
		await expectPlan(eleven.code, company, '2028-P11', '2029-P11', carried);
		await load(company, '2028-P12');
		const twelve = await close(eleven.code, '2028-P12');
		expect(twelve).toMatchObject({ name: 'FY28 Forecast 12+0', last: '2029-P12' });
		await expectPlan(twelve.code, company, '2028-P12', '2029-P12', carried);
		// Six weeks are in it, the last of them the leap week.
		const p12 = company.periods[company.at.get('2028-P12')!];
		expect([p12.first, p12.last]).toEqual(['2028-07-23', '2028-09-02']);
		const { calendar } = await companyState(db);
		expect([
			calendar.firstDay(calendar.parse('2028-P12')!),
			calendar.lastDay(calendar.parse('2028-P12')!)
		]).toEqual([p12.first, p12.last]);
		await reopenMonth({ db, user: ida }, calendar.parse('2028-P12')!, 'late invoice');
		expect((await companyState(db)).closedThrough).toBe(calendar.parse('2028-P11'));
	});

	it('refuses a file whose dates lie beyond its period, and says where, in the calendar’s own words', async () => {
		const company = await open(QUARTERS_OF_WEEKS, '2028-P11');
		const before = await contentOf(db);
		const p12 = company.periods[company.at.get('2028-P12')!];
		const late = entriesFile(p12).replace(/\n2028-09-02/, '\n2028-09-03');
		const { faults, options } = await previewFeed({ db, user: ida }, 'p12.csv', late, null, {});
		expect(faults.map((f) => f.message)).toEqual([
			expect.stringContaining('2028-09-03 does not lie in Period 12 of FY28; a file holds one period')
		]);
		const { calendar } = await companyState(db);
		await expect(
			runFeed({ db, user: ida }, 'p12.csv', late, options, calendar.parse('2028-P12')!, {})
		).rejects.toThrow(Refusal);
		expect(await contentOf(db)).toBe(before);
	});

	it('compares with last year, a period, the year so far and the year of 53 weeks with that of 52', async () => {
		const company = await open(QUARTERS_OF_WEEKS, '2028-P12');
		const { calendar } = await companyState(db);
		const days = {
			month: ['2028-07-23', '2027-07-25'],
			ytd: ['2027-08-29', '2026-08-30'],
			year: ['2027-08-29', '2026-08-30']
		};
		for (const span of ['month', 'ytd', 'year'] as const) {
			const report = await varianceReport(
				{ db, user: ida },
				{
					scenario: 'actuals',
					against: 'last-year',
					department: 'bakery',
					period: calendar.parse('2028-P12')!,
					span,
					leap: 'with',
					threshold: { amount: 1, percent: 0 }
				}
			);
			const row = (code: string) => report.rows.find((r) => r.account === code)!;
			for (const code of ['sales', 'rent', 'energy']) {
				const [a, b] = [actual(code, days[span][0], '2028-09-02'), actual(code, days[span][1], '2027-08-28')];
				expect(row(code).a, `${span} ${code}`).toBeCloseTo(a, 6);
				expect(row(code).b, `${span} ${code}`).toBeCloseTo(b, 6);
				expect(varianceCsv(report)).toContain(String(row(code).a));
			}
		}
		expect(company.periods.filter((p) => p.key.startsWith('2028'))).toHaveLength(12);
	});

	it('is saved as a folder in its own writing, and loads again', async () => {
		await open(QUARTERS_OF_WEEKS, '2028-P10');
		const files = writeCompany(await readStored(db));
		expect(JSON.parse(files.get('company.json')!)).toMatchObject({
			calendar: { kind: 'weeks', grouping: '4-4-5', fiscalStart: 9, endsOn: 6, rule: 'nearest' },
			closedThrough: '2028-P10'
		});
		expect(files.get('ledger/2028-P10.csv')!.split('\n')).toHaveLength(
			entriesFile(rawPeriods(QUARTERS_OF_WEEKS).find((p) => p.key === '2028-P10')!).split('\n').length
		);
		expect(writeCompany(readCompany(files))).toEqual(files);
	});

	it('refuses what is no period of its calendar, at its place', async () => {
		await open(QUARTERS_OF_WEEKS, '2028-P10');
		const bent = (change: (files: Map<string, string>) => void) => {
			const files = weeksCompany(QUARTERS_OF_WEEKS, '2028-P10');
			change(files);
			try {
				readCompany(files);
			} catch (e) {
				return (e as Refusal).faults
					.map((f) => `${f.file}:${f.row ?? ''}:${f.column}: ${f.message}`)
					.join('\n');
			}
			return '';
		};
		const replace = (file: string, from: string, to: string) => (files: Map<string, string>) =>
			files.set(file, files.get(file)!.replace(from, to));
		expect(bent(replace('scenarios.csv', '2028-P01', '2028-09'))).toMatch(
			/scenarios\.csv:2:first: “2028-09” was found; a period such as 2027-P03 was expected/
		);
		expect(bent(replace('scenarios/budget/values.csv', '2028-P12', '2028-P13'))).toMatch(
			/values\.csv:1:2028-P13/
		);
		expect(bent(replace('company.json', '"endsOn":6', '"endsOn":8'))).toMatch(
			/company\.json::calendar\.endsOn/
		);
		expect(bent((f) => f.set('ledger/2028-P13.csv', f.get('ledger/2028-P10.csv')!))).toMatch(/2028-P13/);
	});
});

describe('a company of thirteen periods', () => {
	it('plans, closes the last period of a leap year, and goes on', async () => {
		const company = await open(THIRTEEN, '2028-P12');
		await expectPlan('forecast', company, '2028-P12', '2029-P12');
		await load(company, '2028-P13');
		const made = await close('forecast', '2028-P13');
		expect(made).toMatchObject({ name: 'FY28 Forecast 13+0', last: '2029-P13' });
		await expectPlan(made.code, company, '2028-P13', '2029-P13', (key) =>
			key === '2029-P13' ? '2028-P13' : key
		);
	});
});

describe('a company of single weeks', () => {
	it('looks from a 53rd week at the 52nd, and from the year after it at weeks 1 to 52', async () => {
		const company = await open(SINGLE_WEEKS, '2028-W51');
		await expectPlan('forecast', company, '2028-W51', '2029-W51');
		const plan = await planOf(db, 'forecast');
		const { calendar } = await companyState(db);
		const ago = (key: string) => plan.calculation.cell('orders', 'before', 0, calendar.parse(key)!);
		expect(ago('2029-W01')).toBe(typedDrops(0, 0));
		expect(ago('2029-W51')).toBe(typedDrops(0, 50));
	});
	it('compares its year of 53 weeks as it stands, and without the leap week', async () => {
		await open(SINGLE_WEEKS, '2028-W53');
		const { calendar } = await companyState(db);
		const sales = async (leap: 'with' | 'without') => {
			const report = await varianceReport(
				{ db, user: ida },
				{
					scenario: 'actuals',
					against: 'last-year',
					department: 'bakery',
					period: calendar.parse('2028-W53')!,
					span: 'year',
					leap,
					threshold: { amount: 1, percent: 0 }
				}
			);
			const { a, b } = report.rows.find((r) => r.account === 'sales')!;
			return { a, b, hasLeap: report.hasLeap };
		};
		const before = actual('sales', '2026-08-30', '2027-08-28');
		const [withLeap, without] = [await sales('with'), await sales('without')];
		expect(withLeap.a).toBeCloseTo(actual('sales', '2027-08-29', '2028-09-02'), 6);
		expect(without.a).toBeCloseTo(actual('sales', '2027-08-29', '2028-08-26'), 6);
		for (const r of [withLeap, without]) {
			expect(r.b).toBeCloseTo(before, 6);
			expect(r.hasLeap).toBe(true);
		}
	});
	it('closes the leap week, and is named by its weeks', async () => {
		const company = await open(SINGLE_WEEKS, '2028-W52');
		await load(company, '2028-W53');
		const made = await close('forecast', '2028-W53', 'last');
		expect(made).toMatchObject({ name: 'FY28 Forecast 53+0', last: '2029-W52' });
		await expectPlan(made.code, company, '2028-W53', '2029-W52');
	});
});
