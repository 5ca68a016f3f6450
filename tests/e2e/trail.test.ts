/** From a figure to where it comes from, and back: one key each way. */
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { Person } from '../support/browser';

let app: App;
let p: Person;
const WINDOW = 'scenario=fy28-budget&from=2027-04&to=2028-03';
beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
});
afterAll(async () => {
	await p.close();
	await app.stop();
});
const withAlt = (key: string) => p.driver.actions().keyDown(Key.ALT).sendKeys(key).keyUp(Key.ALT).perform();
const chosen = () =>
	p.driver.executeScript<string>(
		`const c = document.querySelector('[role=gridcell].active, .cell.active'); return c ? c.closest('[data-row]').dataset.row + ' ' + c.dataset.column : ''`
	);
const becomesChosen = (cell: RegExp) =>
	p.driver.wait(async () => cell.test(await chosen()), 15_000, `${cell} is not chosen`);

describe('a figure that comes from elsewhere', () => {
	it('leads to its driver model, with the cell chosen, and back to where one was', async () => {
		await p.go(`${app.url}/plan?${WINDOW}&department=dealer-sales&account=4010`);
		await (await p.cell('4010', '2027-06')).click();
		await withAlt(Key.ENTER);
		await p.says('h1', /^Boat sales$/);
		await becomesChosen(/^\w+@.*\|dealer\|.* 2027-06$/);
		await p.says('.trail', /Back to Kayaks, .*Dealer Sales/);
		await withAlt(Key.BACK_SPACE);
		await p.says('h1', /^Department plan: Dealer Sales$/);
		await becomesChosen(/^4010 2027-06$/);
		expect(await p.driver.findElements({ css: '.trail' })).toHaveLength(0);
	});
	it('leads on from one model to another, and back step by step', async () => {
		await p.go(`${app.url}/plan?${WINDOW}&department=dealer-sales&account=4010`);
		await (await p.cell('4010', '2027-06')).click();
		await withAlt(Key.ENTER);
		await becomesChosen(/^revenue@.* 2027-06$/);
		const row = (await chosen()).split(' ')[0].replace('revenue', 'price');
		// From what it is made of, step by step in the side sheet, and from there to the page.
		await p.keys(' ');
		await p.click('aside li button', /^Net price/);
		await p.click('aside button', 'Go to it in its driver model');
		await becomesChosen(new RegExp(`^${row.replaceAll('|', '\\|')} 2027-06$`));
		await withAlt(Key.ENTER);
		await p.says('h1', /^Assumptions$/);
		await becomesChosen(/^price_index 2027-06$/);
		for (const place of [/^Boat sales$/, /^Boat sales$/, /^Department plan: Dealer Sales$/]) {
			await withAlt(Key.BACK_SPACE);
			await p.says('h1', place);
		}
		expect(await p.driver.findElements({ css: '.trail' })).toHaveLength(0);
	});
	it('tells what it is made of where it comes from no other page', async () => {
		await p.go(`${app.url}/plan?${WINDOW}&department=dealer-sales&account=6240`);
		await (await p.cell('6240', '2027-06')).click();
		await withAlt(Key.ENTER);
		await p.says('aside h2', /^Dealer support$/);
		await p.told(/comes from no other page/);
	});
	it('is forgotten when another way is taken', async () => {
		await p.go(`${app.url}/plan?${WINDOW}&department=dealer-sales&account=4010`);
		await (await p.cell('4010', '2027-06')).click();
		await withAlt(Key.ENTER);
		await p.says('.trail', /Back to/);
		await p.click('nav a', /^Compare$/);
		await p.says('h1', /Variance/);
		expect(await p.driver.findElements({ css: '.trail' })).toHaveLength(0);
		expect(await p.complaints()).toEqual([]);
	});
});
