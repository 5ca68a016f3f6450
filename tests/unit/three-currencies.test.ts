/** A company that counts in three currencies, through a month: planned, loaded, closed and compared; every figure by hand. */
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { totalsOf } from '../../src/lib/core/statements/totals';
import { cellsOf } from '../../src/lib/core/statements/statement';
import { readDepartmentPlan } from '../../src/lib/server/accounts/department-plan';
import { saveCells } from '../../src/lib/server/changes/save-cells';
import { companyState } from '../../src/lib/server/company/structure';
import { previewFeed, runFeed } from '../../src/lib/server/ledger/feed';
import { readMap } from '../../src/lib/server/ledger/map';
import { asOne } from '../../src/lib/server/platform/context';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { varianceReport } from '../../src/lib/server/reports/variance';
import { closeMonth, proposeClose } from '../../src/lib/server/scenarios/close';
import { changeScenario } from '../../src/lib/server/scenarios/list';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { addRateSet, loadRates } from '../../src/lib/server/setup/rates';
import { newCompany } from '../support/new-company';

const JAN26 = 2026 * 12;
/** Average and closing rates of December 2025 to March 2026, and what the budget counts with. */
const RATES = {
	EUR: { average: [0.94, 0.95, 0.96, 0.96], closing: [0.945, 0.955, 0.96, 0.96], budget: 0.9 },
	USD: { average: [0.87, 0.86, 0.84, 0.84], closing: [0.865, 0.85, 0.84, 0.84], budget: 0.9 }
} as const;
type Foreign = keyof typeof RATES;
const CURRENCY = { zurich: 'CHF', riga: 'EUR', boston: 'USD' } as const;
type Department = keyof typeof CURRENCY;
const DEPARTMENTS = Object.keys(CURRENCY) as Department[];
/** At the end of 2025, in own currency: bank, capital. What January books: fees, rent, both through the bank. */
const BOOKS: Record<Department, { opening: number; fees: number; rent: number }> = {
	zurich: { opening: 50_000, fees: 10_000, rent: 4_000 },
	riga: { opening: 20_000, fees: 6_000.5, rent: 1_500.25 },
	boston: { opening: 30_000, fees: 8_000, rent: 9_000 }
};
/** Planned a month. */
const PLAN = { fees: 7_000, rent: 2_000 };

const average = (d: Department, month: number) =>
	CURRENCY[d] === 'CHF' ? 1 : RATES[CURRENCY[d] as Foreign].average[month + 1];
const closing = (d: Department, month: number) =>
	CURRENCY[d] === 'CHF' ? 1 : RATES[CURRENCY[d] as Foreign].closing[month + 1];
const budgeted = (d: Department) => (CURRENCY[d] === 'CHF' ? 1 : RATES[CURRENCY[d] as Foreign].budget);
const sum = (of: (d: Department) => number) => DEPARTMENTS.reduce((s, d) => s + of(d), 0);

let db: Knex;
let user: User;
let budget: string;
let forecast: string;
const as = () => ({ db, user });
beforeAll(async () => {
	db = await openDatabase(':memory:');
	user = await newCompany(db, {
		departments: 'Zurich\nRiga\nBoston',
		entities: [
			{ name: 'Lind SIA', currency: 'EUR', department: 1 },
			{ name: 'Lind Inc', currency: 'USD', department: 2 }
		],
		year: 2026,
		history: {
			content: [
				'Account,Name,Balance,Department',
				...DEPARTMENTS.flatMap((d) => [
					`1020,Bank,${BOOKS[d].opening},${d}`,
					`2800,Share capital,${-BOOKS[d].opening},${d}`
				]),
				'3400,Consulting fees,-12,zurich',
				'6000,Office rent,12,zurich'
			].join('\n'),
			through: '2025-12'
		},
		begins: 'empty'
	});
	budget = ((await db('scenario').first('code')) as { code: string }).code;
	const set = (rates: (c: Foreign, i: number) => [number, number]) =>
		(['EUR', 'USD'] as const)
			.flatMap((c) =>
				['2025-12', '2026-01', '2026-02', '2026-03'].map((month, i) => `${c},${month},${rates(c, i).join()}`)
			)
			.join('\n');
	const load = (code: string, text: string) => loadRates(as(), code, { text, dry: false });
	await load(
		'current',
		set((c, i) => [RATES[c].average[i], RATES[c].closing[i]])
	);
	const { code } = await addRateSet(as(), { name: 'Budget rates', from: null });
	await load(
		code,
		set((c) => [RATES[c].budget, RATES[c].budget])
	);
	await changeScenario(as(), budget, { rates: code });
	await asOne(as(), (within) =>
		saveCells(
			within,
			budget,
			DEPARTMENTS.flatMap((row) =>
				(
					[
						['3400', PLAN.fees],
						['6000', PLAN.rent]
					] as const
				).flatMap(([line, value]) =>
					[0, 1, 2].map((m) => ({ block: 'accounts', line, row, period: JAN26 + m, before: null, value }))
				)
			)
		)
	);
	const file = [
		'Date,Account,Department,Amount',
		...DEPARTMENTS.flatMap((d) => [
			`2026-01-10,3400,${d},${-BOOKS[d].fees}`,
			`2026-01-10,1020,${d},${BOOKS[d].fees}`,
			`2026-01-20,6000,${d},${BOOKS[d].rent}`,
			`2026-01-20,1020,${d},${-BOOKS[d].rent}`
		])
	].join('\n');
	const { options, month, total } = await previewFeed(as(), 'january.csv', file, null, {});
	// In each currency debits are credits.
	expect(total).toEqual({ CHF: 0, EUR: 0, USD: 0 });
	await runFeed(as(), 'january.csv', file, options, month!, {});
	forecast = await closeMonth(as(), {
		month: JAN26,
		from: budget,
		name: 'Forecast 1+11',
		accounts: 'blank',
		followers: [],
		despiteUnmapped: false
	});
});
afterAll(() => db.destroy());

const inMonth = async (scenario: string, department: string, month: number) => {
	const plan = await readDepartmentPlan(
		as(),
		scenario,
		department,
		JAN26 + month,
		JAN26 + month,
		null,
		'reporting'
	);
	return (account: string) => plan.rows.find((r) => r.account === account)!.cells[0] as number;
};

describe('three currencies', () => {
	it('are planned in each, and the budget is their sum at its own rates', async () => {
		for (const month of [0, 1, 2]) {
			const of = await inMonth(budget, 'lind', month);
			expect(of('3400')).toBeCloseTo(
				sum((d) => PLAN.fees * budgeted(d)),
				9
			);
			expect(of('6000')).toBeCloseTo(
				sum((d) => PLAN.rent * budgeted(d)),
				9
			);
		}
	});
	it('are closed into a forecast at current rates: actuals of the month, and the plan after it', async () => {
		expect((await db('scenario').where({ code: forecast }).first('rates')).rates).toBeNull();
		const [january, february] = [await inMonth(forecast, 'lind', 0), await inMonth(forecast, 'lind', 1)];
		expect(january('3400')).toBeCloseTo(
			sum((d) => BOOKS[d].fees * average(d, 0)),
			9
		);
		expect(january('6000')).toBeCloseTo(
			sum((d) => BOOKS[d].rent * average(d, 0)),
			9
		);
		expect(february('3400')).toBeCloseTo(
			sum((d) => PLAN.fees * average(d, 1)),
			9
		);
		for (const d of DEPARTMENTS)
			expect((await inMonth(forecast, d, 0))('3400')).toBeCloseTo(BOOKS[d].fees * average(d, 0), 9);
	});
	it('are compared: what of a difference is currency and what is performance, in every department', async () => {
		const { rows } = await varianceReport(as(), {
			scenario: 'actuals',
			against: budget,
			department: 'lind',
			period: JAN26,
			span: 'month',
			threshold: { amount: 0, percent: 0 }
		});
		for (const [account, actual, plan] of [
			['3400', (d: Department) => BOOKS[d].fees, PLAN.fees],
			['6000', (d: Department) => BOOKS[d].rent, PLAN.rent]
		] as const) {
			const row = rows.find((r) => r.account === account)!;
			const currency = (d: Department) => actual(d) * (average(d, 0) - budgeted(d));
			const performance = (d: Department) => (actual(d) - plan) * budgeted(d);
			expect(row.currency).toBeCloseTo(sum(currency), 9);
			expect(row.performance).toBeCloseTo(sum(performance), 9);
			expect(row.difference).toBeCloseTo(
				sum((d) => actual(d) * average(d, 0) - plan * budgeted(d)),
				9
			);
			for (const part of row.departments) {
				const d = part.department as Department;
				expect(part.currency).toBeCloseTo(currency(d), 9);
				expect(part.performance).toBeCloseTo(performance(d), 9);
			}
		}
	});
	it('have a translated balance sheet that balances, with the difference in an account of its own', async () => {
		const plan = await planOf(db, forecast);
		const { accounts } = plan.structure;
		const translation = accounts.all.find((a) => a.translation)!.code;
		const at = (account: string, department: string | null, month: number) =>
			(cellsOf(totalsOf(plan).of(account, department), JAN26 + month, JAN26 + month)[0] as number | null) ??
			0;
		const leaves = accounts.all.filter((a) => accounts.isLeaf(a.code));
		const all = (type: string, department: string | null, month: number) =>
			leaves.filter((a) => a.type === type).reduce((s, a) => s + at(a.code, department, month), 0);
		for (const month of [-1, 0])
			for (const department of [...DEPARTMENTS, null]) {
				// What has been earned since the year began, and is not yet part of equity.
				const result = month < 0 ? 0 : all('revenue', department, month) - all('expense', department, month);
				expect(
					all('asset', department, month) -
						all('liability', department, month) -
						all('equity', department, month) -
						result
				).toBeCloseTo(0, 3);
			}
		for (const d of DEPARTMENTS) {
			const { opening, fees, rent } = BOOKS[d];
			expect(at('1020', d, 0)).toBeCloseTo((opening + fees - rent) * closing(d, 0), 6);
			const moved =
				opening * (closing(d, 0) - closing(d, -1)) + (fees - rent) * (closing(d, 0) - average(d, 0));
			expect(at(translation, d, 0) - at(translation, d, -1)).toBeCloseTo(moved, 6);
		}
	});
	it('are named one by one where a ledger account is not mapped', async () => {
		const february = [
			'Date,Account,Department,Amount',
			...DEPARTMENTS.map((d, i) => `2026-02-10,9999,${d},${10 * (i + 1)}.5`)
		].join('\n');
		const { options, month } = await previewFeed(as(), 'february.csv', february, null, {});
		await runFeed(as(), 'february.csv', february, options, month!, {});
		expect((await proposeClose(as())).unmapped).toMatchObject([
			{ code: '9999', amounts: { CHF: 10.5, EUR: 20.5, USD: 30.5 } }
		]);
	});
	it('are proved between ledger and plan currency by currency', async () => {
		const { rows } = await readMap(as());
		const bank = rows.find((r) => r.code === '1020')!;
		const own = (d: Department) => BOOKS[d].opening + BOOKS[d].fees - BOOKS[d].rent;
		expect(bank.amounts).toEqual({ CHF: own('zurich'), EUR: own('riga'), USD: own('boston') });
		expect((await companyState(db)).structure.entities.map((e) => e.currency)).toEqual(['CHF', 'EUR', 'USD']);
	});
});
