/** A long-range scenario that is divided more coarsely in later years, from its making to a figure typed in a quarter. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';
import { PRAXIS } from '../support/prepare';

let app: App;
let p: Person;
beforeAll(async () => {
	app = await startApp(PRAXIS);
	p = await Person.open();
	await p.signIn(app.url, 'ana@praxis.example');
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});

/** Chooses from a list by what it is called. */
const choose = async (id: string, name: string) => {
	await (await p.find(`#${id}`)).findElement(By.xpath(`option[contains(., '${name}')]`)).click();
};
const PLAN = 'plan?scenario=long-range&department=labor&from=2027-10&to=2029-12';

describe('a long-range scenario', () => {
	it('is copied from a forecast, reaches further, and says how later years are divided', async () => {
		await p.go(`${app.url}/forecast`);
		const row = await p.named('tr', /^FY26 Forecast 2\+10/);
		await row.findElement(By.css('.dots')).click();
		await p.click('[role=menuitem]', /^Copy …/);
		const name = await p.find('#answer');
		await name.clear();
		await name.sendKeys('Long range');
		await choose('kind', 'long-range');
		await choose('copy-last', 'December 2030');
		await choose('copy-through', 'FY27');
		await choose('copy-way', 'a year in quarters, then years');
		await p.click('dialog button', 'Copy');
		await p.told(/Long range is made/);
	});

	it('shows months, quarters and years on one rod', async () => {
		await p.go(`${app.url}/${PLAN}`);
		await p.cellShows('wages', '2027-12', '8,100');
		await p.cellShows('wages', '2028-Q1', '24,300');
		await p.cellShows('wages', '2029-FY', '97,201');
		const heads = await p.driver.executeScript<string[]>(
			`return [...document.querySelectorAll('.title.drawable')].map((t) => t.querySelector('span').textContent)`
		);
		const under = await p.driver.findElements(By.css('.segment .under'));
		expect(await Promise.all(under.map((u) => u.getText()))).toEqual(['Q4', 'FY28', '', '', '', '']);
		expect(heads).toEqual(['Oct', 'Nov', 'Dec', 'Q1', 'Q2', 'Q3', 'Q4', 'FY29']);
	});

	it('takes a quarter, which what rests on it follows, and tells of it in History', async () => {
		await (await p.cell('wages', '2028-Q2')).click();
		await p.keys('30000', Key.ENTER);
		await p.says('.count', /1 cell not saved/);
		await p.click('button', 'Save');
		await p.told(/1 cell saved/);
		await p.cellShows('wages', '2028-Q2', '30,000');
		await (await p.cell('wages', '2028-Q2')).click();
		await p.keys(' ');
		await p.says('aside h2 + p', /Q2 FY28 · Laboratory/);
		await p.says('aside', /Typed for this period/);
		await p.go(`${app.url}/forecast/history?scenario=long-range`);
		await p.click('td button', /^1 change/);
		await p.says('td', /Wages, Laboratory, Q2 FY28/);
	});

	it('stands beside the forecast that it comes from, in its own periods', async () => {
		await p.go(`${app.url}/${PLAN}&beside=f2`);
		// The forecast ends with February 2027: nothing of it is there.
		await p.says('.beside', /ends in Feb 27/);
		await p.go(`${app.url}/plan?scenario=f2&department=labor&from=2026-10&to=2027-02&beside=long-range`);
		await p.cellShows('wages', '@beside/2026-12', '8,100');
	});

	it('spreads a year over its quarters', async () => {
		await p.go(`${app.url}/plan?scenario=long-range&department=labor&from=2028-01&to=2028-12`);
		await (await p.cell('wages', 'total')).click();
		await p.keys('100000', Key.ENTER);
		await p.says('[role=dialog], dialog', /Q1 FY28 – Q4 FY28/);
		await p.click('[role=dialog] button, dialog button', /Spread/);
		await p.says('.count', /4 cells not saved/);
		await p.click('button', 'Save');
		await p.told(/4 cells saved/);
		await p.cellShows('wages', 'total', '100,000');
	});
});
