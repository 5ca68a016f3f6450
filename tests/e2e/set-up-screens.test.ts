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
async function unlockAll() {
	const client = await Client.signIn(app, 'maren.holt@kelpwick.example');
	for (const { code, kind, locked } of (await client.get('scenarios')).scenarios)
		if (locked && kind !== 'actuals')
			await client.post(`scenarios/${code}/lock`, { locked: false, why: 'the chart is put in order' });
}
const order = async (...codes: string[]) => {
	const rows = (await p.driver.executeScript(
		`return [...document.querySelectorAll('[data-item]')].map((r) => r.dataset.item)`
	)) as string[];
	return rows.filter((r) => codes.includes(r));
};
const indent = (code: string) =>
	p.driver.executeScript<string>(
		`return document.querySelector('[data-item="${code}"] td').style.paddingLeft`
	);

it('adds accounts from a list, which can be planned at once, and takes them back', async () => {
	await p.click('[data-item="office"] button', /^add under/);
	const list = await p.find('#added');
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
	await p.click('[data-item="6890"] button', /^remove/);
	const notice = await p.named('.notice', /^Translation is removed\./);
	expect(await order('6890', 'moving')).toEqual(['moving']);
	await (await notice.findElement({ css: 'button.plain' })).click();
	await p.told(/^Translation is there again\./);
	expect(await order('6890', 'moving')).toEqual(['6890', 'moving']);
});

it('types what many accounts are in a table, says what would move, and saves or refuses all of it', async () => {
	await p.click('button', 'Table');
	await (await p.find('input[aria-label="Find an account"]')).sendKeys('62');
	await p.cellShows('6210', 'name', 'Boat shows');
	await (await p.cell('6210', 'cashFlow')).click();
	await p.keys('never', Key.ENTER);
	await p.cellShows('6210', 'cashFlow', 'Never paid');
	// Down over those below, and a name beside.
	await (await p.cell('6210', 'cashFlow')).click();
	await p.chord(Key.SHIFT, Key.ARROW_DOWN);
	await p.chord(Key.CONTROL, 'd');
	await p.cellShows('6220', 'cashFlow', 'Never paid');
	await (await p.cell('6220', 'name')).click();
	await p.keys('Dealers', Key.ENTER);
	await p.says('.count', /^3 cells not saved$/);
	await p.click('button', 'Tree');
	await p.told(/^Save what is typed in the table first/);
	await p.chord(Key.CONTROL, 's');
	await p.told(/^3 changes saved, in all scenarios\./);

	// Locked budgets have figures there.
	await (await p.cell('6240', 'type')).click();
	await p.keys('income', Key.ENTER);
	await p.cellShows('6240', 'type', 'Income');
	await p.chord(Key.CONTROL, 's');
	await p.told(/, which is locked\. Nothing was changed\./);
	await p.says('.count', /^1 cell not saved$/);
	await unlockAll();
	await p.chord(Key.CONTROL, 's');
	await p.says('dialog h3', /^Change these accounts\?$/);
	await p.says('dialog li', /^FY28 Budget/);
	await p.click('dialog button', 'Change');
	await p.told(/^1 change saved/);
	// What was typed is typed back, and saved again.
	await p.click('button[aria-label="Undo"]', '');
	await p.cellShows('6240', 'type', 'Cost');

	// Somebody else is quicker.
	await p.click('button', 'Discard');
	const client = await Client.signIn(app, 'maren.holt@kelpwick.example');
	await (await p.cell('6220', 'name')).click();
	await p.keys('Mine', Key.ENTER);
	await client.fetch('/api/v1/accounts/6220', {
		method: 'PATCH',
		headers: { 'content-type': 'application/json' },
		body: JSON.stringify({ name: 'Theirs' })
	});
	await p.chord(Key.CONTROL, 's');
	await p.says('dialog h3', /^Somebody else has changed this cell$/);
	await p.says('dialog td', /^Theirs$/);
	await p.click('dialog button', /^Keep mine/);
	await p.told(/^1 change saved/);
	await p.click('button', 'Tree');
	await p.says('[data-item="6220"] td', /^Mine/);
});

it('moves an account by keys, says what a move takes along, and refuses what is locked', async () => {
	// Tab leads to one row of the list, the arrows to the others, and Tab on out of it.
	const reached = () =>
		p.driver.executeScript<string | null>(
			`return document.activeElement.closest('[data-item]')?.dataset.item`
		);
	await p.find('[data-item="9020"]');
	const codes = (await p.driver.executeScript(
		`return [...document.querySelectorAll('[data-item]')].map((r) => r.dataset.item)`
	)) as string[];
	await p.tabTo(/^change/);
	expect(await reached()).toBe(codes[0]);
	await p.keys(Key.END);
	expect(await reached()).toBe(codes.at(-1));
	await p.keys(Key.HOME, ...Array.from({ length: codes.indexOf('6210') }, () => Key.ARROW_DOWN));
	expect(await reached()).toBe('6210');
	await p.keys(Key.ARROW_RIGHT, Key.TAB, Key.TAB, Key.TAB);
	expect(await reached()).toBeNull();
	await p.driver.executeScript(
		`document.querySelector('[data-item="6210"] button').focus({ focusVisible: true })`
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
	await unlockAll();
	await p.click('[data-item="6210"] button', /^change/);
	await p.driver.executeScript(`
		const select = document.querySelector('#account-parent');
		select.value = 'office';
		select.dispatchEvent(new Event('change', { bubbles: true }));
	`);
	await p.click('dialog button', 'Change');
	await p.says('dialog p', /^It goes from “Selling” to “Office and services”, and its figures with it:$/);
	await p.says('dialog li', /^FY27 Budget\s?GBP [\d,]+/);
	await p.click('dialog button', 'Change');
	const notice = await p.named('.notice', /^Boat shows is changed/);
	expect(await order('selling', '6210', 'office')).toEqual(['selling', 'office', '6210']);
	await (await notice.findElement({ css: 'button.plain' })).click();
	await p.told(/^Boat shows is as it was\./);
	expect(await order('6200', '6210', '6220', 'office')).toEqual(['6200', '6210', '6220', 'office']);
});

it('moves what is dragged: beside another, and under a heading once it is asked', async () => {
	const onto = async (code: string, on: string, down: number) => {
		const [from, to] = [await p.find(`[data-item="${code}"]`), await p.find(`[data-item="${on}"]`)];
		await p.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', to);
		const at = (row: typeof from, share: number) =>
			p.driver.executeScript<{ x: number; y: number }>(
				`const { x, y, height } = arguments[0].getBoundingClientRect();
				return { x: Math.round(x + 40), y: Math.round(y + arguments[1] * height) };`,
				row,
				share
			);
		await p.driver
			.actions()
			.move(await at(from, 0.5))
			.press()
			.move(await at(to, down))
			.release()
			.perform();
	};
	await onto('6220', '6200', 0.1);
	let notice = await p.named('.notice', /^Print and photography is changed/);
	expect(await order('6200', '6210', '6220')).toEqual(['6220', '6200', '6210']);
	await (await notice.findElement({ css: 'button.plain' })).click();
	await p.told(/^Print and photography is as it was\./);
	await onto('6220', 'office', 0.5);
	await p.told(/^This would change “Selling” in .*, which is locked\. Nothing was changed/);
	await unlockAll();
	await onto('6220', 'office', 0.5);
	await p.says('dialog p', /^It goes from “Selling” to “Office and services”, and its figures with it:$/);
	await p.click('dialog button', 'Change');
	notice = await p.named('.notice', /^Print and photography is changed/);
	expect(await order('6220', 'office', '6410')).toEqual(['office', '6410', '6220']);
	await (await notice.findElement({ css: 'button.plain' })).click();
	await p.told(/^Print and photography is as it was\./);
	expect(await order('6200', '6210', '6220', 'office')).toEqual(['6200', '6210', '6220', 'office']);
});

it('types what departments are called in a table, by keys alone', async () => {
	await p.go(`${app.url}/setup/departments?as=table`);
	await p.cellShows('rigging', 'entity', 'Kelpwick Boatworks Ltd');
	await p.tabTo(/^Departments.*treegrid$/);
	await p.keys(Key.ARROW_DOWN, Key.DELETE);
	await p.chord(Key.CONTROL, 's');
	await p.told(/^In “Name”, “Production”: something has to stand here\. Nothing was saved\./);
	await p.keys('Sales and service', Key.ENTER);
	await p.says('.count', /^1 cell not saved$/);
	await p.chord(Key.CONTROL, 's');
	await p.told(/^1 change saved, in all scenarios\./);
	await p.click('button', 'Tree');
	await p.says('[data-item] td', /^Sales and service/);
});

it('adds a department that can be planned at once, and moves one with what is said before', async () => {
	await p.click('nav.tabs a', 'Departments');
	await p.says('h1', /^Departments$/);
	await p.click('button', 'New legal entity …');
	await (await p.find('#entity-name')).sendKeys('Kelpwick Nordic AB', Key.ENTER);
	await p.told(/^Kelpwick Nordic AB is there/);
	await p.click('[data-item="sales"] button', /^add under/);
	await (await p.find('#added')).sendKeys('Nordic Sales');
	await (await p.find('#new-entity')).sendKeys('Kelpwick Nordic AB');
	await p.says('dialog li', /^Nordic Sales/);
	await p.click('dialog button', 'Add');
	await p.told(/^Nordic Sales is added\./);
	await p.says('[data-item="nordic-sales"] td', /^Kelpwick Nordic AB$/);
	await p.go(`${app.url}/plan?scenario=fy28-budget&department=nordic-sales`);
	await p.says('h1', /^Department plan: Nordic Sales$/);
	await p.settled();
	await p.tabTo(/treegrid/);
	await p.keys('1250', Key.ENTER);
	await p.chord(Key.CONTROL, 's');
	await p.told(/saved/);

	// Now it has figures: where it goes is asked for, and who will see it.
	await p.go(`${app.url}/setup/departments`);
	await p.click('[data-item="nordic-sales"] button', /^change/);
	await (await p.find('#department-parent')).sendKeys('Production');
	const chosen = await p.driver.executeScript(
		`const s = document.querySelector('#department-parent');
		s.value = 'production';
		s.dispatchEvent(new Event('change', { bubbles: true }));
		return s.selectedOptions[0].textContent.trim();`
	);
	expect(chosen).toBe('Production');
	await p.click('dialog button', 'Change');
	await p.says('dialog p', /^It goes from “Sales” to “Production”, and its figures with it \(its result\):$/);
	await p.says('dialog li', /^FY28 Budget\s?GBP 1,250/);
	await p.says('dialog p', /^Who will see its figures from then on: Petra Lind\.$/);
	await p.click('dialog button', 'Change');
	await p.told(/^Nordic Sales is changed/);
	// What holds figures does not go.
	await p.says('[data-item="nordic-sales"] .doing', /^change(\s+Nordic Sales)?$/);
});

it('switches a part of the product off, which is out of sight then, and keeps on what holds something', async () => {
	await p.click('nav.tabs a', 'Company');
	await p.says('#module-collecting', /Stays on: 1 round is kept$/);
	const tick = 'input[aria-describedby="module-seasonality"]';
	expect(await (await p.find('input[aria-describedby="module-collecting"]')).isEnabled()).toBe(false);
	await (await p.find(tick)).click();
	await p.says('.notice', /^Seasonal profiles is switched off/);
	await p.click('nav a', 'Drivers');
	await p.says('.actions a', /^Combination rules$/);
	await p.gone('.actions a[href^="/drivers/profiles"]');
	await p.go(`${app.url}/drivers/profiles`);
	await p.says(
		'main',
		/“Seasonal profiles” is switched off\. An analyst can switch it on under Set up, Company\./
	);
	await p.go(`${app.url}/setup/company`);
	await (await p.find(tick)).click();
	await p.told(/^Seasonal profiles is switched on/);
	await p.click('nav a', 'Drivers');
	await p.says('.actions a', /^Seasonal profiles$/);
});
