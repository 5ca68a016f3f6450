/** A model that is kept by weeks inside a company of months, as people use it. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { writeFolder } from '../../src/lib/server/transfer/folder';
import { startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';
import { inMonth, PRICE, samplesOf, weeklyCompany } from '../support/weekly-model';

const home = mkdtempSync(join(tmpdir(), 'weekly-'));
let app: App;
let p: Person;
beforeAll(async () => {
	writeFolder(join(home, 'company'), weeklyCompany());
	app = await startApp(join(home, 'company'));
	p = await Person.open();
	await p.signIn(app.url, 'ana@praxis.example');
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
	rmSync(home, { recursive: true, force: true });
});

const whole = (value: number) => Math.round(value).toLocaleString('en-GB');
const MODEL = '/drivers/samples?scenario=f2&department=all&from=2026-01&to=2026-12';
/** Monday 30 March: two days in March, five in April. */
const income = (monday: string) => (monday === '2026-03-30' ? 500 : samplesOf(monday)) * PRICE;

describe('a model by weeks', () => {
	it('stands on a rod of weeks, and says which days they are', async () => {
		await p.go(`${app.url}${MODEL}`);
		await p.says('.top p', /kept in weeks/);
		const boundary = await p.find('.segment.boundary');
		const head = await boundary.findElement(By.xpath('..'));
		expect(await head.getText()).toMatch(/W9/);
		expect(await head.getAttribute('title')).toMatch(/^23 Feb 2026 – 1 Mar 2026\./);
	});

	it('previews and keeps what is typed in a week; the months it lies in follow', async () => {
		await p.go(`${app.url}${MODEL}&at=taken&month=2026-W14`);
		await (await p.cell('taken', '2026-W14')).click();
		await p.keys('500', Key.ENTER);
		await p.cellShows('income', '2026-W14', whole(500 * PRICE));
		await p.click('button', 'Save');
		await p.told(/1 cell saved/);
		await p.go(`${app.url}/plan?scenario=f2&department=labor&from=2026-01&to=2026-12`);
		for (const month of ['2026-03', '2026-04', '2026-05'])
			await p.cellShows('lab', month, whole(inMonth(month, income)));
	});

	it('is led to from the month that it is posted to, week by week', async () => {
		await (await p.cell('lab', '2026-04')).click();
		await p.keys(' ');
		await p.click('aside section button', /Income/);
		await p.says('aside h3', /Each counts by its days in this month/);
		const parts = await p.driver.findElements(By.css('aside section li'));
		expect(await parts[0].getText()).toMatch(/^W14 FY26\s+5 of its 7 days\s+1,750\.00$/);
		await p.click('aside section button', /W14 FY26/);
		await p.says('aside h2 + p', /Week 14 of FY26 · Samples/);
		await p.click('aside button', 'Go to it in its driver model');
		await p.says('h1', /Samples/);
		await p.cellShows('income', '2026-W14', whole(500 * PRICE));
		// Seen from the month, the way leads to the first week in it.
		await p.go(`${app.url}/plan?scenario=f2&department=labor&from=2026-01&to=2026-12`);
		await (await p.cell('lab', '2026-04')).click();
		await p.chord(Key.ALT, Key.ENTER);
		await p.says('h1', /Samples/);
		await p.find('[data-row="income"] .cell.active[data-column="2026-W14"], .active[data-column="2026-W14"]');
	});

	it('takes a total of a quarter and spreads it over its weeks', async () => {
		await p.go(`${app.url}${MODEL}&fold=2026-W27&at=taken&month=2026-W27..2026-W39`);
		await (await p.cell('taken', '2026-W27..2026-W39')).click();
		await p.keys('1300', Key.ENTER);
		await p.says('[role=dialog], dialog', /W27 FY26 – W39 FY26/);
		await p.click('[role=dialog] button, dialog button', /Spread/);
		await p.says('.count', /13 cells not saved/);
		await p.click('button', 'Save');
		await p.told(/13 cells saved/);
		await p.cellShows('taken', '2026-W27..2026-W39', '1,300');
	});

	it('is begun by whoever makes one, and previews its form by weeks', async () => {
		await p.go(`${app.url}/drivers?scenario=f2`);
		await p.says('.cards', /Samples[\s\S]*in weeks/);
		await p.click('button', 'New driver model …');
		await (await p.find('#model-name')).sendKeys('Night duty');
		await p.driver.executeScript(`
			const label = [...document.querySelectorAll('label')].find((l) => l.textContent === 'Kept in');
			const select = document.getElementById(label.htmlFor);
			select.value = [...select.options].find((o) => o.text === 'weeks from Monday to Sunday').value;
			select.dispatchEvent(new Event('change', { bubbles: true }));`);
		await p.says('[role=dialog], dialog', /Posted and read in months by days/);
		await p.click('button', 'Make it');
		await p.says('h1', /Night duty: lines and formulas/);
		await p.says('.outcome', /W1 FY26/);
		const page = await p.driver.executeScript<number[]>(
			'return [document.documentElement.scrollWidth, innerWidth]'
		);
		expect(page[0]).toBeLessThanOrEqual(page[1]);
	});
});
