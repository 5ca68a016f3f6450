/** What the screens and exports show, against totals added up from the raw files by other means. */
import { readdirSync } from 'node:fs';
import ExcelJS from 'exceljs';
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { monthCalendar } from '../../src/lib/core/calendar/calendar';
import { varianceXlsx } from '../../src/lib/server/reports/variance-file';
import { readDepartmentPlan } from '../../src/lib/server/accounts/department-plan';
import { varianceReport } from '../../src/lib/server/reports/variance';
import { DEMO, loaded, PRAXIS, rawRows, userOf, worthIn } from '../support/company';

interface Raw {
	/** account → department → month → natural amount in cents. */
	amount: Map<string, number>;
	accounts: Map<string, { parent: string; type: string }>;
	leaves: string[];
	/** What an amount of a department in a month is worth in the company's currency. */
	rate(department: string, month: string): number;
}

const CREDIT = new Set(['revenue', 'liability', 'equity']);

/** Adds up the ledger files in whole cents, without a line of the application. */
function addUp(folder: string): Raw {
	const accounts = new Map(
		rawRows(`${folder}/accounts.csv`).map((r) => [r.code, { parent: r.parent, type: r.type }])
	);
	const map = new Map(rawRows(`${folder}/ledger-accounts.csv`).map((r) => [r.code, r.account]));
	const amount = new Map<string, number>();
	for (const file of readdirSync(`${folder}/ledger`)) {
		for (const r of rawRows(`${folder}/ledger/${file}`)) {
			const account = map.get(r.ledger_account);
			if (!account) continue;
			const sign = CREDIT.has(accounts.get(account)!.type) ? -1 : 1;
			const key = `${account} ${r.department} ${file.slice(0, 7)}`;
			amount.set(key, (amount.get(key) ?? 0) + sign * Math.round(Number(r.amount) * 100));
		}
	}
	const parents = new Set([...accounts.values()].map((a) => a.parent));
	const rate = worthIn(folder);
	return { amount, accounts, rate, leaves: [...accounts.keys()].filter((a) => !parents.has(a)) };
}

/** A tree total for a month in cents, translated to the company's currency: revenue less expense up to the root. */
function total(raw: Raw, root: string, month: string, departments: readonly string[]): number {
	let sum = 0;
	for (const leaf of raw.leaves) {
		let sign = 1;
		let at = leaf;
		while (at !== root && at !== '') {
			const { parent, type } = raw.accounts.get(at)!;
			if (parent !== '' && (raw.accounts.get(parent)!.type === 'expense') !== (type === 'expense'))
				sign = -sign;
			at = parent;
		}
		if (at === root)
			for (const d of departments)
				sum +=
					sign *
					(raw.amount.get(`${leaf} ${d} ${month}`) ?? 0) *
					(raw.accounts.get(leaf)!.type === 'statistical' ? 1 : raw.rate(d, month));
	}
	return sum;
}

describe.each([
	['the demo', DEMO, 4, 'maren', 'kelpwick', 'profit', 2024 * 12 + 3, 2026 * 12 + 8],
	['another company', PRAXIS, 1, 'ana', 'all', 'result', 2025 * 12, 2026 * 12 + 1]
])('figures of %s', (_name, folder, fiscalStart, analyst, everything, root, first, last) => {
	let db: Knex;
	const raw = addUp(folder);
	const calendar = monthCalendar(fiscalStart);
	const departments = rawRows(`${folder}/departments.csv`);
	const leaves = departments.filter((d) => !departments.some((x) => x.parent === d.code)).map((d) => d.code);

	beforeAll(async () => {
		db = await loaded(folder);
	});
	afterAll(() => db.destroy());

	it('shows actuals month by month to the cent', async () => {
		const user = await userOf(db, analyst);
		const plan = await readDepartmentPlan({ db, user }, 'actuals', everything, first, last);
		let compared = 0;
		for (const row of plan.rows) {
			if (row.type === 'statistical' && !row.leaf) continue;
			row.cells.forEach((cell, i) => {
				const expected = total(raw, row.account, calendar.key(first + i), leaves);
				// To the hundredth of a cent: translated amounts have parts of cents.
				expect(((cell as number | null) ?? 0) * 100, `${row.account} ${calendar.key(first + i)}`).toBeCloseTo(
					expected,
					2
				);
				if (expected !== 0) compared++;
			});
		}
		expect(compared).toBeGreaterThan(50);
		const profit = plan.rows.find((r) => r.account === root)!;
		expect(profit.cells.every((c) => typeof c === 'number' && c !== 0)).toBe(true);
	});

	it('adds departments up to the whole, in closed and open months alike', async () => {
		const user = await userOf(db, analyst);
		const scenario = (await db('scenario').where({ locked: false }).orderBy('position').first()).code;
		const end = last + 6;
		const whole = await readDepartmentPlan({ db, user }, scenario, everything, last - 3, end);
		const parts = await Promise.all(
			leaves.map((d) => readDepartmentPlan({ db, user }, scenario, d, last - 3, end, null, 'reporting'))
		);
		const byAccount = parts.map((p) => new Map(p.rows.map((r) => [r.account, r.cells])));
		whole.rows.forEach((row) => {
			if (row.type === 'rate') return;
			row.cells.forEach((cell, i) => {
				// Balances of which a department has none are not among its rows.
				const sum = byAccount.reduce((s, own) => s + ((own.get(row.account)?.[i] as number | null) ?? 0), 0);
				expect((cell as number | null) ?? 0, `${row.account} ${i}`).toBeCloseTo(sum, 6);
			});
		});
	});

	it('puts the same figures into the XLSX, as numbers, in month, year to date and full year', async () => {
		const user = await userOf(db, analyst);
		for (const span of ['month', 'ytd', 'year'] as const) {
			const report = await varianceReport(
				{ db, user },
				{
					scenario: 'actuals',
					against: 'last-year',
					department: everything,
					period: last,
					span,
					threshold: { amount: 1000, percent: 0.05 }
				}
			);
			const book = new ExcelJS.Workbook();
			await book.xlsx.load((await varianceXlsx(report, 'all')).buffer as ArrayBuffer);
			const sheet = book.worksheets[0];
			const name = report.rows.find((r) => r.account === root)!.name;
			const at = sheet.getColumn(1).values.lastIndexOf(name);
			const months: number[] = [];
			for (let p = report.from; p <= Math.min(report.to, last); p++) months.push(p);
			const sum = (shift: number) =>
				months.reduce((s, p) => s + total(raw, root, calendar.key(p - shift), leaves), 0);
			expect((sheet.getCell(at, 2).value as number) * 100).toBeCloseTo(sum(0), 2);
			if (span !== 'year') {
				expect((sheet.getCell(at, 3).value as number) * 100).toBeCloseTo(sum(12), 2);
				expect((sheet.getCell(at, 4).value as number) * 100).toBeCloseTo(sum(0) - sum(12), 2);
			}
		}
	});
});
