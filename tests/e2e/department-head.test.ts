/** A department head's first visit, by mouse alone and by keyboard alone: finds what to fill, pastes, explains, saves. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';

const TOM = 'tom.aldous@kelpwick.example';
/** As a spreadsheet copies it: a column with separators, a currency sign, brackets and a blank. */
const COLUMN = '£1,200.50\r\n2 400\r\n(150)\r\n';
let app: App;
let p: Person;
let tom: Client;
beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	tom = await Client.signIn(app, TOM);
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});
const saved = async (month: string): Promise<(number | null)[]> => {
	const { rows } = await tom.get(
		`plan?scenario=fy28-budget&department=dealer-sales&from=${month}&to=${month}`
	);
	return ['6210', '6220', '6230'].map(
		(code) => rows.find((r: { account: string }) => r.account === code).cells[0]
	);
};
const opened = async () => {
	await p.signIn(app.url, TOM);
	// What waits for him is what he sees first, with its due day and how to begin.
	await p.says('h1', /Department plan: Dealer Sales/);
	await p.says('main p', /submission (returned|drafting), due/);
	await p.says('.hint', /Cells with a dotted line can be typed/);
	await p.click('.hint button', /Show all accounts/);
};

/** Scrolls down, as the wheel does, until a row is there. */
const scrolledTo = async (row: string) => {
	for (let n = 0; n < 30; n++) {
		if ((await p.driver.findElements(By.css(`[data-row="${row}"]`))).length) break;
		await p.driver.executeScript(`document.querySelector('[role=treegrid]').scrollTop += 200`);
		await p.driver.sleep(60);
	}
};

describe('a department head', () => {
	it('with the mouse alone pastes a column, sees the totals, explains a figure and saves', async () => {
		await opened();
		await p.driver.executeScript('window.__copied = arguments[0]', COLUMN);
		await p.driver.executeScript(
			`Object.defineProperty(navigator, 'clipboard', { value: { readText: async () => window.__copied }, configurable: true })`
		);
		await scrolledTo('selling');
		const total = await p.cellText('selling', '2027-05');
		await p.driver
			.actions()
			.contextClick(await p.cell('6210', '2027-05'))
			.perform();
		await p.click('[role=menuitem]', /^Paste/);
		await p.says('.count', /3 cells not saved/);
		await p.cellShows('6210', '2027-05', '1,201');
		await p.cellShows('6230', '2027-05', '−150');
		await p.click('button', 'Save');
		await p.told(/3 cells saved/);
		expect(await saved('2027-05')).toEqual([1200.5, 2400, -150]);
		await p.driver.wait(
			async () => (await p.cellText('selling', '2027-05')) !== total,
			15_000,
			'the total stays'
		);
		await p.driver
			.actions()
			.contextClick(await p.cell('6230', '2027-05'))
			.perform();
		await p.click('[role=menuitem]', /^Notes, items, attachments$/);
		await (await p.find('aside textarea')).sendKeys('Credit for a cancelled hall');
		await p.click('aside button', 'Write');
		await p.says('aside .text', /^Credit for a cancelled hall$/);
		await p.says('.hint', /1 cell with notes or items/);
	});
	it('with the keyboard alone does the same in the next month', async () => {
		await p.driver.manage().deleteAllCookies();
		await opened();
		// Tab reaches the grid; from there arrows lead to the account and the month.
		await p.driver.executeScript(`[...document.querySelectorAll('.hint button')].at(-1)?.focus()`);
		await p.chord(Key.SHIFT, Key.TAB);
		const at = () =>
			p.driver.executeScript<string>(
				`const g = document.activeElement; const c = document.getElementById(g.getAttribute('aria-activedescendant') ?? ''); return c ? c.closest('[data-row]').dataset.row + ' ' + c.dataset.column : ''`
			);
		for (let n = 0; n < 12 && !(await at()); n++) await p.chord(Key.SHIFT, Key.TAB);
		await p.chord(Key.CONTROL, Key.HOME);
		for (let n = 0; n < 200 && !(await at()).startsWith('6210 '); n++) await p.keys(Key.ARROW_DOWN);
		for (let n = 0; n < 20 && (await at()) !== '6210 2027-06'; n++) await p.keys(Key.ARROW_RIGHT);
		expect(await at()).toBe('6210 2027-06');
		await p.paste(COLUMN);
		await p.says('.count', /3 cells not saved/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/3 cells saved/);
		expect(await saved('2027-06')).toEqual([1200.5, 2400, -150]);
		await p.chord(Key.SHIFT, Key.F10);
		await p.says('[role=menuitem]', /^Notes, items, attachments$/);
		for (let n = 0; n < 12; n++) {
			const chosen = await p.driver.executeScript<string>('return document.activeElement.textContent.trim()');
			if (/^Notes, items/.test(chosen)) break;
			await p.keys(Key.ARROW_DOWN);
		}
		await p.keys(Key.ENTER);
		await p.find('aside textarea');
		for (let n = 0; n < 25; n++) {
			if ((await p.driver.switchTo().activeElement().getTagName()) === 'textarea') break;
			await p.keys(Key.TAB);
		}
		await p.keys('The same hall in June', Key.TAB);
		await p.keys(Key.ENTER);
		await p.says('aside .text', /^The same hall in June$/);
		expect(await p.driver.findElements(By.css('aside .text'))).not.toHaveLength(0);
	});
});
