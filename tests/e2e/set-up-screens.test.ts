/** The screens under Set up: the chart of accounts by keyboard and by mouse, and what it does to a plan. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';

let app: App;
let p: Person;
beforeEach(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	await p.go(`${app.url}/setup/accounts`);
});
afterEach(async () => {
	await p.close();
	await app.stop();
});
const order = async (...codes: string[]) => {
	const rows = (await p.driver.executeScript(
		`return [...document.querySelectorAll('[data-account]')].map((r) => r.dataset.account)`
	)) as string[];
	return rows.filter((r) => codes.includes(r));
};
const indent = (code: string) =>
	p.driver.executeScript<string>(
		`return document.querySelector('[data-account="${code}"] td').style.paddingLeft`
	);

it('adds accounts from a list, which can be planned at once, and takes them back', async () => {
	await p.click('[data-account="office"] button', /^add under/);
	const list = await p.find('#new-accounts');
	await list.sendKeys('6000 Twice');
	await p.says('[role=alert]', /^“6000” is there already: /);
	await list.sendKeys(Key.chord(Key.CONTROL, 'a'), '6890 Translation\nMoving\n6892 Vans\n6893 Storage');
	await p.says('dialog li', /^Storage\s?6893$/);
	await p.click('dialog button', 'Add 4');
	await p.told(/^4 accounts are added\./);
	await p.go(`${app.url}/plan?scenario=fy28-budget&department=design-office`);
	await p.says('h1', /^Department plan: Design Office$/);
	await p.click('button', 'Show all accounts');
	await (await p.find('input[placeholder="Find rows"]')).sendKeys('Translation');
	await p.says('[data-row="6890"]', /Translation/);
	await p.go(`${app.url}/setup/accounts`);
	await p.click('[data-account="6890"] button', /^remove/);
	const notice = await p.named('.notice', /^Translation is removed\./);
	expect(await order('6890', 'moving')).toEqual(['moving']);
	await (await notice.findElement({ css: 'button.plain' })).click();
	await p.told(/^Translation is there again\./);
	expect(await order('6890', 'moving')).toEqual(['6890', 'moving']);
});

it('moves an account by keys, says what a move takes along, and refuses what is locked', async () => {
	// By its row's own button, as who tabs there.
	await p.driver.executeScript(
		`document.querySelector('[data-account="6210"] button').focus({ focusVisible: true })`
	);
	expect(await order('6200', '6210', '6220')).toEqual(['6200', '6210', '6220']);
	await p.chord(Key.ALT, Key.ARROW_UP);
	await p.told(/^Boat shows is changed, in all scenarios\./);
	expect(await order('6200', '6210', '6220')).toEqual(['6210', '6200', '6220']);
	// The focus went with it.
	await p.chord(Key.ALT, Key.ARROW_DOWN);
	await p.told(/^Boat shows is changed/);
	expect(await order('6200', '6210', '6220')).toEqual(['6200', '6210', '6220']);
	// Out of its heading: its figures in a locked budget would go with it.
	const before = await indent('6210');
	await p.chord(Key.ALT, Key.ARROW_LEFT);
	await p.says('.notice', /^This would change “Selling” in .*, which is locked\. Nothing was changed/);
	expect(await indent('6210')).toBe(before);
});

it('asks before figures go to another heading, with their amounts, and takes it back', async () => {
	for (const name of ['FY27 Budget', 'FY27 Forecast 6+6']) expect(name).toMatch(/^FY27/);
	const client = await Client.signIn(app, 'maren.holt@kelpwick.example');
	for (const { code, kind, locked } of (await client.get('scenarios')).scenarios)
		if (locked && kind !== 'actuals')
			await client.post(`scenarios/${code}/lock`, { locked: false, why: 'the chart is put in order' });
	await p.click('[data-account="6210"] button', /^change/);
	await p.driver.executeScript(`
		const select = document.querySelector('#account-parent');
		select.value = 'office';
		select.dispatchEvent(new Event('change', { bubbles: true }));
	`);
	await p.click('dialog button', 'Change');
	await p.says('dialog p', /^It goes from “Selling” to “Office and services”, and its figures with it:$/);
	await p.says('dialog li', /^FY27 Budget\s?[\d,]+/);
	await p.click('dialog button', 'Change');
	const notice = await p.named('.notice', /^Boat shows is changed/);
	expect(await order('selling', '6210', 'office')).toEqual(['selling', 'office', '6210']);
	await (await notice.findElement({ css: 'button.plain' })).click();
	await p.told(/^Boat shows is as it was\./);
	expect(await order('6200', '6210', '6220', 'office')).toEqual(['6200', '6210', '6220', 'office']);
});
