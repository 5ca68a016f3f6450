/** The variance report outside: XLSX that a spreadsheet opens as it should, CSV that is exact and harmless. */
import { parse } from 'csv-parse/sync';
import ExcelJS from 'exceljs';
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { neutral, outline, varianceCsv, varianceXlsx } from '../../src/lib/server/reports/variance-file';
import { varianceReport, type Report } from '../../src/lib/server/reports/variance';
import { DEMO, loaded, userOf } from '../support/company';

let db: Knex;
let report: Report;
beforeAll(async () => {
	db = await loaded(DEMO);
	report = await varianceReport(
		{ db, user: await userOf(db, 'maren') },
		{
			scenario: 'fy27-forecast-6-6',
			against: 'fy27-budget',
			department: 'kelpwick',
			period: 2026 * 12 + 8,
			span: 'ytd',
			threshold: { amount: 5000, percent: 0.05 }
		}
	);
});
afterAll(() => db.destroy());

async function sheet(): Promise<ExcelJS.Worksheet> {
	const book = new ExcelJS.Workbook();
	await book.xlsx.load((await varianceXlsx(report, 'Kelpwick · September')).buffer as ArrayBuffer);
	return book.worksheets[0];
}

describe('the report', () => {
	it('has every difference add up, for each account over its departments', () => {
		for (const row of report.rows) {
			if (row.a === null || row.b === null) continue;
			expect(row.difference).toBeCloseTo((row.a as number) - (row.b as number), 8);
			if (!row.departments.length || row.type === 'statistical') continue;
			const parts = row.departments.reduce((s, d) => s + (d.difference as number), 0);
			expect(parts).toBeCloseTo(row.difference as number, 4);
		}
	});
	it('marks what reaches both thresholds, and nothing else', () => {
		for (const row of report.rows) {
			if (typeof row.difference !== 'number') continue;
			const expected =
				Math.abs(row.difference) >= 5000 && (row.percent === null || Math.abs(row.percent) >= 0.05);
			expect(row.marked, row.account).toBe(expected);
		}
		expect(report.marked).toBe(report.rows.filter((r) => r.leaf && r.marked).length);
		expect(report.marked).toBeGreaterThan(0);
	});
	it('calls more revenue and less cost favourable, in leaves and totals', () => {
		for (const row of report.rows) {
			if (typeof row.difference !== 'number' || Math.abs(row.difference) < 0.01) continue;
			const up = row.difference > 0;
			if (row.type === 'revenue') expect(row.verdict, row.account).toBe(up ? 'favourable' : 'unfavourable');
			if (row.type === 'expense') expect(row.verdict, row.account).toBe(up ? 'unfavourable' : 'favourable');
		}
	});
});

describe('currency and performance', () => {
	it('are together the difference, and currency is there only where something counts in euro', () => {
		let euro = 0;
		for (const row of report.rows) {
			if (row.type === 'statistical') {
				expect(row.currency).toBeUndefined();
				continue;
			}
			for (const part of [row, ...row.departments]) {
				if (typeof part.difference !== 'number') continue;
				const { currency, performance } = part as { currency: number; performance: number };
				expect(currency + performance).toBeCloseTo(part.difference, 6);
			}
			for (const part of row.departments) {
				if (part.department !== 'baltic') expect(part.currency ?? 0).toBeCloseTo(0, 9);
				else if (part.currency) euro++;
			}
		}
		expect(euro).toBeGreaterThan(10);
	});
});

describe('as XLSX', () => {
	it('says what was chosen, keeps heads in sight, groups by level', async () => {
		const s = await sheet();
		expect(s.getCell('A1').text).toBe('Variance: FY27 Forecast 6+6 against FY27 Budget');
		expect(s.getCell('A2').text).toBe('Kelpwick · September');
		expect(s.views[0]).toMatchObject({ state: 'frozen', xSplit: 1, ySplit: 5 });
		expect((s.getRow(5).values as string[]).slice(1)).toEqual([
			'Account',
			'FY27 Forecast 6+6',
			'FY27 Budget',
			'Difference',
			'Currency',
			'Performance',
			'Difference %',
			'Verdict',
			'Over threshold'
		]);
		const levels = outline(report).map((r) => r.level);
		levels.forEach((level, i) => expect(s.getRow(6 + i).outlineLevel ?? 0).toBe(Math.min(7, level)));
		expect(Math.max(...levels)).toBeGreaterThan(3);
	});
	it('holds numbers as numbers with formats, and totals in bold', async () => {
		const s = await sheet();
		outline(report).forEach((row, i) => {
			const r = s.getRow(6 + i);
			for (const [column, value] of [
				[2, row.v.a],
				[3, row.v.b],
				[4, row.v.difference],
				[5, row.v.currency],
				[6, row.v.performance]
			] as const)
				if (typeof value === 'number') expect(r.getCell(column).value, row.name).toBe(value);
			if (row.v.percent !== null) {
				expect(r.getCell(7).value).toBe(row.v.percent);
				expect(r.getCell(7).numFmt).toContain('%');
			}
			if (row.bold) expect(r.font?.bold).toBe(true);
		});
	});
});

describe('as CSV', () => {
	it('is exact, row for row', () => {
		const rows = parse(varianceCsv(report), { columns: true }) as Record<string, string>[];
		const expected = outline(report);
		expect(rows).toHaveLength(expected.length);
		rows.forEach((row, i) => {
			expect(row.Account).toBe(neutral(expected[i].name));
			expect(row.Difference === '' ? null : Number(row.Difference)).toBe(expected[i].v.difference);
			expect(row['Over threshold']).toBe(expected[i].marked ? 'yes' : '');
		});
	});
	it('does not let a name run as a formula in a spreadsheet', async () => {
		expect(['=1+1', '+1', '-1', '@x', '\tx'].map(neutral)).toEqual(["'=1+1", "'+1", "'-1", "'@x", "'\tx"]);
		expect(neutral('Boats = good')).toBe('Boats = good');
		await db('account').where({ code: '4000' }).update({ name: '=HYPERLINK("http://x")' });
		await db('company').increment('revision', 1);
		const again = await varianceReport({ db, user: await userOf(db, 'maren') }, report.query);
		expect(varianceCsv(again)).toContain(`"'=HYPERLINK(""http://x"")"`);
	});
});
