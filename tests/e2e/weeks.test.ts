/** A company on quarters of 4, 4 and 5 weeks as people use it: load, type, close across the leap week, compare. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { writeFolder } from '../../src/lib/server/transfer/folder';
import { startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';
import { actual, entriesFile, QUARTERS_OF_WEEKS, rawPeriods, weeksCompany } from '../support/weeks-company';

const TODAY = '2028-09-20';
const P12 = rawPeriods(QUARTERS_OF_WEEKS).find((p) => p.key === '2028-P12')!;
const home = mkdtempSync(join(tmpdir(), 'weeks-'));
let app: App;
let p: Person;

beforeAll(async () => {
	vi.stubEnv('YARDSTAVE_TODAY', TODAY);
	writeFolder(join(home, 'company'), weeksCompany(QUARTERS_OF_WEEKS, '2028-P11'));
	writeFileSync(join(home, 'p12.csv'), entriesFile(P12));
	app = await startApp(join(home, 'company'), { YARDSTAVE_TODAY: TODAY });
	p = await Person.open();
	await p.signIn(app.url, 'ida@larkmoor.example');
});
afterAll(async () => {
	vi.unstubAllEnvs();
	await p?.close();
	await app?.stop();
	rmSync(home, { recursive: true, force: true });
});

const whole = (value: number) => Math.round(value).toLocaleString('en-GB');

describe('a year of weeks, on the screen', () => {
	it('shows its periods on the rod, and which days they are', async () => {
		await p.go(`${app.url}/plan?scenario=forecast&department=ovens&from=2028-P07&to=2029-P06`);
		const boundary = await p.find('.segment.boundary');
		const head = await boundary.findElement(By.xpath('..'));
		expect(await head.getText()).toMatch(/P12/);
		expect(await head.getAttribute('title')).toMatch(/^23 Jul 2028 – 2 Sep 2028\. Draw over periods/);
		await p.says('.top p', /actuals through Period 11 of FY28/);
		const names = await p.driver.findElements(By.css('.segment.year'));
		expect(await names[0].getText()).toMatch(/FY29 Q1/);
	});

	it('takes what is typed in a period, and plans by the same period last year', async () => {
		await (await p.cell('wages', '2029-P01')).click();
		await p.keys('7000', Key.ENTER);
		await p.says('.count', /1 cell not saved/);
		await p.click('button', 'Save');
		await p.told(/1 cell saved/);
		await p.cellShows('wages', '2029-P01', '7,000');
		// Last year and 3 % more, of the same period.
		const rent = rawPeriods(QUARTERS_OF_WEEKS).find((x) => x.key === '2028-P05')!;
		await p.cellShows('rent', '2029-P05', whole(actual('rent', rent.first, rent.last) * 1.03));
	});

	it('loads the period with the leap week and closes it', async () => {
		await p.go(`${app.url}/setup/feed`);
		await (await p.find('#file')).sendKeys(join(home, 'p12.csv'));
		await p.says('.facts b', /^Period 12 of FY28$/);
		await p.click('button', /^Load P12 FY28$/);
		await p.told(/Period 12 of FY28: \d+ entries loaded/);
		await p.go(`${app.url}/forecast`);
		await p.click('button', /^Close P12 FY28 …$/);
		expect(await (await p.find('#close-name')).getAttribute('value')).toBe('FY28 Forecast 12+0');
		await p.click('dialog button', 'Close the period');
		await p.told(/Period 12 of FY28 is closed/);
		await p.says('.top p', /actuals through Period 12 of FY28/);
		await p.go(`${app.url}/plan?scenario=fy28-forecast-12-0&department=ovens&from=2029-P01&to=2029-P12`);
		await p.cellShows('wages', '2029-P01', '7,000');
		await p.cellShows('rent', '2029-P12', whole(actual('rent', P12.first, P12.last) * 1.03));
	});

	it('compares the year of 53 weeks with that of 52, and opens what a figure is made of', async () => {
		await p.go(
			`${app.url}/compare?scenario=actuals&against=last-year&department=bakery&period=2028-P12&span=year`
		);
		await p.says('h1', /Period 1 of FY28 – Period 12 of FY28/);
		await p.cellShows('sales', 'a', whole(actual('sales', '2027-08-29', '2028-09-02')));
		await p.cellShows('sales', 'b', whole(actual('sales', '2026-08-30', '2027-08-28')));
		await (await p.cell('sales', 'b')).click();
		await p.says('aside', /P1 FY27 – P12 FY27/);
		expect(await p.complaints()).toEqual([]);
	});
});
