/** The grid as a spreadsheet's user takes it: folding, filling, the menu, arranging, notes. And keeping scenarios. */
import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';

let app: App;
let p: Person;
let client: Client;
const at = (name: string) => `${name}@kelpwick.example`;
const PLAN = 'plan?scenario=fy28-budget&department=rigging&from=2027-04&to=2028-03';
beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, at('maren.holt'));
	client = await Client.signIn(app, at('maren.holt'));
});
afterAll(async () => {
	await p.close();
	await app.stop();
});
const number = (text: string) => Number(text.replace(/,/g, '').replace('−', '-') || '0');
const value = async (row: string, column: string) => number(await p.cellText(row, column));
const unsaved = async () => (await p.driver.findElements(By.css('.unsaved'))).length;

describe('quarters', () => {
	it('fold to their sum and back, by the mouse and by the menu, and stand in the address', async () => {
		await p.go(`${app.url}/${PLAN}`);
		const months = await Promise.all(['2027-04', '2027-05', '2027-06'].map((m) => value('6710', m)));
		await (await p.find('button[aria-label="Fold FY28 Q1"]')).click();
		await p.cellShows('6710', '2027-04..2027-06', months.reduce((a, b) => a + b, 0).toLocaleString('en-GB'));
		expect(await p.driver.getCurrentUrl()).toContain('fold=2027-04');
		await p.go(await p.driver.getCurrentUrl());
		await (await p.cell('6710', '2027-04..2027-06')).click();
		await p.chord(Key.SHIFT, Key.F10);
		await p.click('[role=menuitem]', /^Unfold Q1$/);
		await p.cellShows('6710', '2027-05', months[1].toLocaleString('en-GB'));
	});
	it('take a typed figure, which is spread over their months', async () => {
		await (await p.find('button[aria-label="Fold FY28 Q1"]')).click();
		await (await p.cell('5210', '2027-04..2027-06')).click();
		await p.keys('9,001', Key.ENTER);
		await p.says('h3', /^.+, Apr 27 – Jun 27$/);
		await (await p.find('#how option[value="evenly"]')).click();
		await p.click('button', /^Spread$/);
		await p.cellShows('5210', '2027-04..2027-06', '9,001');
		expect(await unsaved()).toBe(0);
		await (await p.find('button[aria-label="Unfold FY28 Q1"]')).click();
		expect(await unsaved()).toBe(3);
		await p.click('button', 'Discard');
	});
});

describe('the rod', () => {
	it('is drawn over to see some months alone, by the menu too, and Back leads back', async () => {
		const months = async () =>
			(await p.driver.executeScript(
				`return [...document.querySelectorAll('.title.drawable')].map((t) => t.querySelector('span').textContent)`
			)) as string[];
		const all = await months();
		const heads = await p.driver.findElements(By.css('.title.drawable'));
		await p.driver.actions().dragAndDrop(heads[4], heads[2]).perform();
		await p.driver.wait(async () => (await months()).length === 3, 10_000, 'other months stay');
		expect(await months()).toEqual(all.slice(2, 5));
		await (await p.cell('5210', '2027-06')).click();
		await p.chord(Key.SHIFT, Key.ARROW_RIGHT);
		await p.chord(Key.SHIFT, Key.F10);
		await p.click('[role=menuitem]', /^Show these months alone$/);
		await p.driver.wait(async () => (await months()).length === 2, 10_000, 'the third month stays');
		await p.driver.navigate().back();
		await p.driver.navigate().back();
		await p.driver.wait(async () => (await months()).length === all.length, 10_000, 'they do not come back');
		expect(await months()).toEqual(all);
	});
});

describe('marks and keys', () => {
	it('are explained one key away, each drawn as in the grid, and the grid has the focus again', async () => {
		await (await p.cell('5210', '2027-05')).click();
		await p.keys(Key.F1);
		await p.says('dialog[open] h3', /^Marks and keys$/);
		await p.says('dialog[open] dd', /^typed and not saved$/);
		const look = (css: string) =>
			p.driver.executeScript(
				`return getComputedStyle(document.querySelector(${JSON.stringify(css)})).backgroundImage`
			);
		expect(await look('dialog[open] .cell.editable')).toBe(
			await look('[data-row="5210"] [data-column="2027-05"]')
		);
		await p.keys(Key.ESCAPE);
		await p.gone('dialog[open]');
		await p.keys(Key.ARROW_RIGHT, Key.ARROW_LEFT, '7', Key.ESCAPE);
		expect(await unsaved()).toBe(0);
		await p.find('[role=treegrid]:focus');
	});
});

describe('filling', () => {
	it('goes right and down by keys, and on with even steps by the handle', async () => {
		await (await p.cell('5210', '2027-04')).click();
		await p.keys('100', Key.TAB, '110', Key.ENTER);
		await (await p.cell('5210', '2027-04')).click();
		await p.chord(Key.SHIFT, Key.ARROW_RIGHT);
		const handle = await p.find('.handle');
		await p.driver
			.actions()
			.dragAndDrop(handle, await p.cell('5210', '2027-08'))
			.perform();
		for (const [i, month] of ['06', '07', '08'].entries())
			await p.cellShows('5210', `2027-${month}`, String(120 + 10 * i));
		await (await p.cell('5210', '2027-08')).click();
		await p.driver
			.actions()
			.keyDown(Key.SHIFT)
			.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT)
			.keyUp(Key.SHIFT)
			.perform();
		await p.chord(Key.CONTROL, 'r');
		await p.cellShows('5210', '2027-10', '140');
		expect(await unsaved()).toBe(7);
		await p.chord(Key.CONTROL, 'z');
		expect(await unsaved()).toBe(5);
	});
	it('goes on in even steps by the keyboard alone, and makes columns wider', async () => {
		await (await p.cell('5210', '2027-04')).click();
		const width = async () => (await (await p.cell('5210', '2027-04')).getRect()).width;
		const before = await width();
		const alt = (...keys: string[]) =>
			p.driver
				.actions()
				.keyDown(Key.ALT)
				.keyDown(Key.SHIFT)
				.sendKeys(...keys)
				.keyUp(Key.SHIFT)
				.keyUp(Key.ALT)
				.perform();
		await alt(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
		await p.driver.wait(async () => (await width()) === before + 32, 5000, 'the column is not wider');
		await p.keys('50', Key.TAB, '60', Key.ENTER);
		await p.keys(Key.ARROW_UP, Key.ARROW_LEFT);
		await p.driver
			.actions()
			.keyDown(Key.SHIFT)
			.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_RIGHT)
			.keyUp(Key.SHIFT)
			.perform();
		await p.chord(Key.SHIFT, Key.F10);
		await p.named('[role=menuitem]', /^Fill right in even steps/);
		for (let i = 0; ; i++) {
			const at = await p.driver.executeScript('return document.activeElement.textContent.trim()');
			if (/^Fill right in even steps/.test(at as string)) break;
			expect(i).toBeLessThan(30);
			await p.keys(Key.ARROW_DOWN);
		}
		await p.keys(Key.ENTER);
		await p.cellShows('5210', '2027-06', '70');
		await p.cellShows('5210', '2027-07', '80');
		for (let i = 0; i < 3; i++) await p.chord(Key.CONTROL, 'z');
		expect(await unsaved()).toBe(5);
		await p.chord(Key.SHIFT, Key.F10);
		await p.click('[role=menuitem]', /^Usual widths$/);
		await p.driver.wait(async () => (await width()) === before, 5000, 'the column keeps its width');
	});
	it('is undone over a save, and saved again', async () => {
		await p.chord(Key.CONTROL, 's');
		await p.told(/5 cells saved/);
		await (await p.cell('5210', '2027-04')).click();
		await p.chord(Key.CONTROL, 'z');
		expect(await unsaved()).toBe(3);
		await p.chord(Key.CONTROL, 'z');
		await p.chord(Key.CONTROL, 'z');
		expect(await unsaved()).toBe(5);
		await p.chord(Key.CONTROL, 's');
		await p.told(/5 cells saved/);
		const { rows } = await client.get(PLAN);
		const row = rows.find((r: { account: string }) => r.account === '5210');
		expect(row.typed.slice(0, 5)).toEqual([null, null, null, null, null]);
	});
	it('sums what is chosen at the foot, and finds rows by their names', async () => {
		await (await p.cell('6710', '2027-04')).click();
		const first = await value('6710', '2027-04');
		const second = await value('6710', '2027-05');
		await p.chord(Key.SHIFT, Key.ARROW_RIGHT);
		await p.says('.summary', new RegExp(`^Sum ${Math.floor((first + second) / 1000)},.*Count 2$`));
		const box = await p.find('.seek input');
		await box.sendKeys('subcontr');
		await p.says('.foot span', /^1 row$/);
		await p.cell('5210', '2027-04');
		await box.clear();
		await box.sendKeys(' ', Key.BACK_SPACE);
	});
});

describe('a cell that has been scrolled out of sight', () => {
	const MONTH = '2026-12';
	let row: string;
	/** Its row is far above, and no more drawn. */
	const scrollAway = async () => {
		await p.driver.executeScript(`document.querySelector('[role=treegrid]').scrollTop = 1e6`);
		await p.gone(`.cells [data-row="${row}"]`);
	};
	it('comes back with the first key of a figure, and no key is lost', async () => {
		await p.go(`${app.url}/drivers/boat_sales?scenario=fy27-forecast-6-6&from=2026-10&to=2027-03&open=units`);
		const typable = await p.find(`.cells [data-row^="units@"] .editable[data-column="${MONTH}"]`);
		row = (await (await typable.findElement(By.xpath('..'))).getAttribute('data-row'))!;
		await typable.click();
		await scrollAway();
		await p.keys('4', '5', Key.ENTER);
		await p.cellShows(row, MONTH, '45');
		expect(await unsaved()).toBe(1);
	});
	it('comes back with F2, and with its menu', async () => {
		await (await p.cell(row, MONTH)).click();
		await scrollAway();
		await p.keys(Key.F2, '6', Key.ENTER);
		await p.cellShows(row, MONTH, '6');
		await (await p.cell(row, MONTH)).click();
		await scrollAway();
		await p.chord(Key.SHIFT, Key.F10);
		await p.named('[role=menuitem]', /^Copy/);
		await p.cell(row, MONTH);
		await p.keys(Key.ESCAPE);
		await p.click('button', 'Discard');
	});
});

describe('arranging a model', () => {
	it('nests members with subtotals, and types where a single row is', async () => {
		await p.go(`${app.url}/drivers/boat_sales?scenario=fy27-forecast-6-6&from=2026-10&to=2027-03`);
		await p.click('button', /^Arrange …$/);
		await p.click('dialog[open] label', /^nested, with subtotals$/);
		await p.click('dialog[open] button', 'Show');
		await (await p.find('[data-row="units"] .toggle')).click();
		await (await p.find('[data-row="units>product:kayaks"] .toggle')).click();
		await p.find('[data-row="units>product:kayaks>product:eider-10"]');
		const parts = await p.driver.findElements(By.css('.cells [data-row^="units>product:kayaks>product:"]'));
		expect(parts).toHaveLength(4);
		const sums = await Promise.all(
			parts.map(async (row) => value((await row.getAttribute('data-row'))!, '2026-12'))
		);
		expect(sums.reduce((a, b) => a + b, 0)).toBe(await value('units>product:kayaks', '2026-12'));
		await (await p.find('[data-row="units>product:kayaks>product:eider-10"] .toggle')).click();
		await (await p.find('[data-row="units>product:kayaks>product:eider-10>channel:dealer"] .toggle')).click();
		const leaf = 'units>product:kayaks>product:eider-10>channel:dealer>region:lakes';
		const before = await value(leaf, '2026-12');
		const family = await value('units>product:kayaks', '2026-12');
		await (await p.cell(leaf, '2026-12')).click();
		await p.keys(String(before + 5), Key.ENTER);
		await p.cellShows('units>product:kayaks', '2026-12', (family + 5).toLocaleString('en-GB'));
		// Turned while it is typed, nothing is lost.
		await p.click('button', /^Arrange …$/);
		await p.click('dialog[open] label', /^every row by its full name$/);
		await p.click('dialog[open] button', 'Show');
		await p.says('.count', /1 cell not saved/);
		await p.click('button', 'Discard');
	});
});

describe('notes and items', () => {
	it('are written by who plans, answered by who reviews, and marked in the grid', async () => {
		await p.signIn(app.url, at('tom.aldous'));
		await p.go(`${app.url}/plan?scenario=fy28-budget&department=dealer-sales&from=2027-04&to=2028-03`);
		await (await p.cell('6240', '2027-06')).click();
		await p.chord(Key.SHIFT, Key.F10);
		await p.click('[role=menuitem]', /^Notes, items, attachments$/);
		await (await p.find('aside textarea')).sendKeys('Two extra stands in June');
		await p.click('aside button', 'Write');
		await p.says('aside .text', /^Two extra stands in June$/);
		await p.click('aside button', 'Make it up of items');
		const fields = await p.driver.findElements(By.css('aside .item input'));
		await fields[0].sendKeys('Stand fee');
		await fields[1].sendKeys('2');
		await fields[2].sendKeys('1,450.25');
		await p.click('aside button', 'Save items');
		await p.cellShows('6240', '2027-06', '2,901');
		await p.says('aside .big', /^2,900\.50$/);
		const file = join(tmpdir(), 'offer.txt');
		writeFileSync(file, 'An offer.');
		await (await p.find('aside input[type=file]')).sendKeys(file);
		await p.says('aside a', /^offer\.txt$/);
		// The grid is read anew after the side sheet.
		await p.find('[data-row="6240"] [data-column="2027-06"] .glyphs i:nth-child(3)');
		await p.click('.hint button', /1 cell with notes or items/);
		await p.says('dialog[open] li', /Jun 27\s+Two extra stands in June/);
		await p.click('dialog[open] button', 'Done');
		await p.signIn(app.url, at('oliver.strand'));
		await p.go(`${app.url}/plan?scenario=fy28-budget&department=dealer-sales&from=2027-04&to=2028-03`);
		await (await p.cell('6240', '2027-06')).click();
		await p.keys(' ');
		await p.click('aside [role=tab]', /^Notes and items \(3\)/);
		await p.click('aside button', /^Answer$/);
		await (await p.find('aside textarea')).sendKeys('Agreed.');
		await (await p.named('aside .row button', /^Answer$/)).click();
		await p.says('aside .answer .text', /^Agreed\.$/);
		await p.signIn(app.url, at('maren.holt'));
	});
});

describe('rows that are searched for', () => {
	it('are found in lines that are folded, and the line folds again when the words are gone', async () => {
		await p.go(`${app.url}/drivers/boat_sales?scenario=fy28-budget&from=2027-04&to=2028-03`);
		const seek = await p.find('.seek input');
		await seek.sendKeys('eider 10 · dealer · lakes');
		await p.find('[data-row="units@eider-10|dealer|lakes"]');
		await p.gone('[data-row^="units@tern"]');
		await (await p.cell('units@eider-10|dealer|lakes', '2027-04')).click();
		expect(await p.driver.getCurrentUrl()).toContain('find=eider');
		await seek.clear();
		await seek.sendKeys(' ', Key.BACK_SPACE);
		await p.gone('[data-row="units@eider-10|dealer|lakes"]');
		await p.cell('margin', '2027-04');
	});
	it('are found in groups of a plan that are folded', async () => {
		await p.go(`${app.url}/plan?scenario=fy28-budget&from=2027-04&to=2028-03&department=kelpwick`);
		await p.click('[data-row="heading:boats"] .toggle', /.*/);
		await p.gone('[data-row="4010"]');
		await (await p.find('.seek input')).sendKeys('kayaks');
		await p.find('[data-row="4010"]');
	});
});

describe('keeping scenarios', () => {
	const menu = async (code: string, item: RegExp) => {
		await (await p.find(`tr[data-scenario="${code}"] .dots`)).click();
		await p.click('[role=menuitem]', item);
	};
	it('finds, renames, files and hides one, and those it is hidden from do not know of it', async () => {
		await p.go(`${app.url}/forecast?scenario=fy28-budget`);
		const box = await p.find('.find input');
		await box.sendKeys('what-if');
		await p.says('.head .muted', /^1 of 6$/);
		await box.clear();
		await box.sendKeys(' ', Key.BACK_SPACE);
		await menu('dearer-kayaks', /^Name, folder/);
		const name = await p.find('#scenario-name');
		await name.clear();
		await name.sendKeys('Kayak ideas');
		await p.click('dialog[open] label', /^its owner and named people$/);
		await p.click('dialog[open] button', 'Save');
		await p.told(/Kayak ideas is changed/);
		await p.says('tr', /^Kayak ideas\s*named people/);
		const oliver = await Client.signIn(app, at('oliver.strand'));
		const codes = (await oliver.get('scenarios')).scenarios.map((s: { code: string }) => s.code);
		expect(codes).not.toContain('dearer-kayaks');
		expect((await oliver.get('scenarios/dearer-kayaks/package')).status).toBe(404);
		const page = await (
			await oliver.fetch('/forecast?scenario=fy28-budget&department=kelpwick&from=2027-04&to=2028-03')
		).text();
		expect(page).not.toContain('Kayak ideas');
	});
	it('deletes one and brings it back', async () => {
		await menu('dearer-kayaks', /^Delete/);
		await p.says('.deleted', /Kayak ideas is deleted/);
		await p.gone('tr[data-scenario="dearer-kayaks"]');
		await p.click('.deleted button', 'Bring it back');
		await p.find('tr[data-scenario="dearer-kayaks"]');
	});
	it('shows every save in History, and takes one back', async () => {
		await p.go(`${app.url}/forecast/history?scenario=fy28-budget`);
		await p.says('tbody tr', /Tom Aldous/);
		const row = await p.named('tbody tr', /Tom Aldous\s+typed in a department’s plan/);
		await row.findElement(By.css('button.plain')).click();
		await p.says('tbody li', /Dealer support, Dealer Sales, Jun 27: blank → 2900\.5/);
		await row.findElement(By.xpath('.//button[contains(., "Take back")]')).click();
		await p.told(/1 change is taken back/);
		const { rows } = await client.get(
			'plan?scenario=fy28-budget&department=dealer-sales&from=2027-06&to=2027-06'
		);
		expect(rows.find((r: { account: string }) => r.account === '6240').typed).toEqual([null]);
		expect(await p.complaints()).toEqual([]);
	});
});
