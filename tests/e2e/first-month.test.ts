/** The month as people do it: load, find, plan, collect, close, compare, take out. By mouse. */
import { existsSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import ExcelJS from 'exceljs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';

const at = (name: string) => `${name}@kelpwick.example`;
let app: App;
let p: Person;

beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});

describe('the first month, on the demo', () => {
	it('loads October from the ledger and maps what is new', async () => {
		await p.signIn(app.url, at('maren.holt'));
		await p.go(`${app.url}/setup/feed`);
		await (await p.find('#file')).sendKeys(resolve('demo/inbox/ledger-2026-10.csv'));
		await p.says('.facts b', /^October 2026$/);
		await p.says('section h2', /1 ledger account is not mapped/);
		await p.says('section h2', /1 entry is far from the usual size/);
		await p.says('.proof b', /^2,800\.00|=/);
		await p.click('button', /^Map to Online marketing$/);
		await p.says('section h2', /All ledger accounts are mapped/);
		await p.says('.proof b', /\+ 0 unmapped/);
		await p.click('button', /^Load Oct 26$/);
		await p.told(/October 2026: \d+ entries loaded/);
		await p.says('.listing td', /^October 2026$/);
	});

	it('finds the mis-keyed invoice in three clicks from the variance report', async () => {
		await p.go(`${app.url}/compare`);
		await p.says('h1', /October 2026/);
		// One: only what is marked. Two: the figure. The entry stands first in the side sheet.
		await p.click('label', 'only marked');
		await (await p.cell('5050', 'difference')).click();
		await p.says('aside .alarm', /1 entry far from the usual size/);
		const first = await p.find('aside .ledger li');
		expect(await first.getText()).toMatch(/Corran Haulage[\s\S]*24,900\.00/);
		expect(await first.getText()).toContain('88213');
	});

	it('changes an assumption, and the profit and loss follows', async () => {
		await p.go(`${app.url}/plan?scenario=fy27-forecast-6-6&department=kelpwick`);
		const before = await p.cellText('4010', '2026-12');
		await p.go(`${app.url}/drivers/assumptions?scenario=fy27-forecast-6-6`);
		await (await p.cell('price_rise', '2026-11')).click();
		await p.keys('10', Key.ENTER);
		await p.says('.count', /1 cell not saved/);
		await p.click('button', 'Save');
		await p.told(/1 cell saved/);
		await p.go(`${app.url}/plan?scenario=fy27-forecast-6-6&department=kelpwick`);
		const after = await p.cellText('4010', '2026-12');
		const number = (t: string) => Number(t.replaceAll(',', ''));
		expect(number(after)).toBeCloseTo(number(before) * 1.1, -1);
	});

	it('refuses a formula that is wrong, at its place, and keeps the old one', async () => {
		await p.go(`${app.url}/drivers/boat_sales?scenario=fy27-forecast-6-6`);
		await (await p.cell('revenue', 'formula')).click();
		// What it gives is there as it is written, for all rows and for one.
		await p.says('dialog .strip', /gives\s+[\d,]+/);
		const all = await (await p.find('dialog .strip')).getText();
		await (await p.find('dialog .result option:nth-child(2)')).click();
		await p.driver.wait(async () => (await (await p.find('dialog .strip')).getText()) !== all, 10_000);
		const editor = await p.find('.cm-content');
		await editor.sendKeys(' * unitz');
		await p.says('.errors li', /no line “unitz” here.*Did you mean “units”/);
		expect(await (await p.named('dialog button', 'Save formula')).isEnabled()).toBe(false);
		await editor.sendKeys(Key.BACK_SPACE, 's + margin * 0');
		// A circle is found by trying it, and the server refuses it as well.
		await p.says('p.errors', /revenue.*margin|margin.*revenue/);
		await p.click('dialog button', 'Save formula');
		await p.says('p.errors', /revenue.*margin|margin.*revenue/);
		await p.click('dialog button', 'Cancel');
		expect(await p.cellText('revenue', 'formula')).toBe('units * price');
	});

	it('plans a department: types, pastes, undoes, saves, takes an override away', async () => {
		await p.signIn(app.url, at('tom.aldous'));
		// A returned plan is what waits for him.
		await p.says('h1', /Dealer Sales/);
		await (await p.cell('6240', '2027-04')).click();
		await p.keys('2500', Key.ENTER);
		await (await p.cell('6240', '2027-05')).click();
		await p.paste('2,600\t2,700\t(100)');
		await p.says('.count', /4 cells not saved/);
		await p.chord(Key.CONTROL, 'z');
		await p.says('.count', /1 cell not saved/);
		await p.chord(Key.CONTROL, 'y');
		await p.says('.count', /4 cells not saved/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/4 cells saved/);
		await p.cellShows('6240', '2027-07', '−100');
		await (await p.cell('6240', '2027-07')).click();
		await p.keys(Key.DELETE);
		await p.click('button', 'Save');
		await p.told(/1 cell saved/);
		expect(await p.cellText('6240', '2027-07')).not.toBe('−100');
		expect(await p.cellText('6240', '2027-04')).toBe('2,500');
	});

	it('changes a basis', async () => {
		await (await p.cell('6240', 'basis')).click();
		await p.click('label', /^The average of the last closed months$/);
		const months = await p.find('#months');
		await months.clear();
		await months.sendKeys('6');
		await p.click('dialog button', 'Save basis');
		await p.told(/basis is saved/);
		await p.cellShows('6240', 'basis', 'run-rate, last 6');
		// What was typed stays over it.
		expect(await p.cellText('6240', '2027-04')).toBe('2,500');
	});

	it('tells the second of two people who typed into the same cell', async () => {
		const other = await Person.open();
		try {
			await other.signIn(app.url, at('maren.holt'));
			await other.go(`${app.url}/plan?scenario=fy28-budget&department=dealer-sales`);
			await (await other.cell('6240', '2027-08')).click();
			await other.keys('111', Key.ENTER);
			await (await p.cell('6240', '2027-08')).click();
			await p.keys('222', Key.ENTER);
			await p.click('button', 'Save');
			await p.told(/1 cell saved/);
			await other.click('button', 'Save');
			await other.says('dialog', /Somebody else has changed this cell[\s\S]*111[\s\S]*222[\s\S]*Tom Aldous/);
			await other.click('dialog button', 'Keep mine and save');
			await other.told(/1 cell saved/);
			await other.cellShows('6240', '2027-08', '111');
		} finally {
			await other.close();
		}
	});

	it('submits, which locks; is returned with a reason; is approved', async () => {
		await p.go(`${app.url}/plan?scenario=fy28-budget&department=dealer-sales`);
		await p.click('button', /^Submit …$/);
		await (await p.find('#comment')).sendKeys('Dealer support is for the two new dealers.');
		await p.click('dialog button', 'Submit');
		await p.says('.top p', /has been submitted/);
		expect((await p.driver.findElements(By.css('.cell.editable'))).length).toBe(0);

		await p.signIn(app.url, at('oliver.strand'));
		await p.go(`${app.url}/collect`);
		const row = await p.named('tr', /^Dealer Sales submitted/);
		await (await row.findElement(By.xpath('.//button[contains(., "More")]'))).click();
		await p.click('.detail button', /^Return …$/);
		await p.click('dialog button', 'Return');
		await p.says('.problem', /Say why/);
		await (await p.find('#comment')).sendKeys('Please round to hundreds.');
		await p.click('dialog button', 'Return');
		await p.says('tr', /^Dealer Sales returned[\s\S]*Please round to hundreds/);

		await p.signIn(app.url, at('tom.aldous'));
		await p.go(`${app.url}/plan?scenario=fy28-budget&department=dealer-sales`);
		await p.click('button', /^Submit …$/);
		await p.click('dialog button', 'Submit');
		await p.says('.top p', /has been submitted/);
		await p.signIn(app.url, at('oliver.strand'));
		await p.go(`${app.url}/collect`);
		const again = await p.named('tr', /^Dealer Sales submitted/);
		await (await again.findElement(By.xpath('.//button[contains(., "Approve")]'))).click();
		await p.click('dialog button', 'Approve');
		await p.says('tr', /^Dealer Sales approved/);
	});

	it('closes October into the next forecast, 7 + 5, reaching twelve months ahead', async () => {
		await p.signIn(app.url, at('maren.holt'));
		await p.go(`${app.url}/forecast`);
		await p.click('button', /^Close Oct 26 …$/);
		expect(await (await p.find('#close-name')).getAttribute('value')).toBe('FY27 Forecast 7+5');
		await p.click('dialog button', 'Close the month');
		await p.told(/October 2026 is closed/);
		await p.says('h1', /^Plan/);
		await p.says('.top p', /actuals through October 2026/);
		// Seven closed months, the boundary before November.
		expect((await p.driver.findElements(By.css('.segment .block.closed'))).length).toBe(7);
		const boundary = await p.find('.segment.boundary');
		expect(await boundary.findElement(By.xpath('..')).getText()).toMatch(/Nov/);
		await p.go(`${app.url}/forecast?scenario=fy27-forecast-7-5`);
		await p.says('tr', /FY27 Forecast 7\+5[\s\S]*Apr 26 – Oct 27[\s\S]*Oct 26/);
	});

	it('takes the variance report out as XLSX with numbers as numbers', async () => {
		await p.go(`${app.url}/compare?scenario=fy27-forecast-7-5&period=2026-10&span=ytd`);
		await (await p.cell('4000', 'b')).click();
		await p.chord(Key.CONTROL, Key.END);
		const shown = (await p.cellText('profit', 'a')).replaceAll(',', '').replace('−', '-');
		await p.click('a', 'Download XLSX');
		const file = join(p.downloads, 'variance-fy27-forecast-7-5-2026-10-ytd.xlsx');
		await p.driver.wait(async () => existsSync(file), 10_000);
		const book = new ExcelJS.Workbook();
		await book.xlsx.load(readFileSync(file).buffer as ArrayBuffer);
		const sheet = book.worksheets[0];
		expect(sheet.getCell('A2').text).toBe(
			'Kelpwick Boatworks · Kelpwick Boatworks · April 2026 to October 2026'
		);
		expect(sheet.views[0]).toMatchObject({ state: 'frozen', ySplit: 5, xSplit: 1 });
		const profit = sheet.getColumn(1).values.indexOf('Profit before tax');
		expect(profit).toBeGreaterThan(5);
		const value = sheet.getCell(profit, 2).value;
		expect(typeof value).toBe('number');
		expect(String(Math.round(value as number))).toBe(shown);
		expect(sheet.getCell(profit, 2).numFmt).toContain('#,##0');
	});

	it('made the browser complain about nothing', async () => {
		expect((await p.complaints()).filter((c) => !/401|403|409|422/.test(c))).toEqual([]);
	});
});
