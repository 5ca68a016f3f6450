/** What each screen does beyond the walk through the month. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';

let app: App;
let p: Person;
const at = (name: string) => `${name}@kelpwick.example`;

beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, at('maren.holt'));
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});

const choose = async (css: string, text: string) => {
	const select = await p.find(css);
	await select
		.findElement(By.xpath(`.//option[normalize-space(translate(., "\u00a0", " "))="${text}"]`))
		.click();
};
const address = () => p.driver.getCurrentUrl().then((u) => new URL(u));
const number = (text: string) => Number(text.replaceAll(',', '').replace('−', '-').replace('–', '0'));

describe('the selection bar', () => {
	it('stands in the address, and the back button works', async () => {
		await p.go(`${app.url}/plan?scenario=fy27-forecast-6-6&department=kelpwick`);
		await choose('header label:nth-of-type(2) select', 'Dealer Sales');
		await p.says('h1', /^Department plan: Dealer Sales$/);
		expect((await address()).searchParams.get('department')).toBe('dealer-sales');
		await choose('header label:nth-of-type(1) select', 'FY28 Budget');
		// The window follows to where the scenario has months.
		await p.says('.under', /^FY28 Q1$/);
		await p.driver.navigate().back();
		await p.says('.under', /^FY27 Q1$/);
		await p.driver.navigate().back();
		await p.says('h1', /^Plan: Kelpwick Boatworks$/);
	});
	it('shows any months that are asked for', async () => {
		await p.go(`${app.url}/plan?scenario=fy27-forecast-6-6&department=dealer-sales&from=2026-04&to=2027-03`);
		await choose('header label:nth-of-type(3) select', 'Other months …');
		await choose('#window-from', 'February 2027');
		await choose('#window-to', 'November 2026');
		await p.click('dialog[open] button', 'Show');
		await p.says('dialog[open] [role=alert]', /last month lies before the first/);
		await choose('#window-to', 'June 2027');
		await p.click('dialog[open] button', 'Show');
		await p.cell('6240', '2027-06');
		expect((await address()).search).toContain('from=2027-02&to=2027-06');
		const groups = await p.driver.executeScript(
			`return [...document.querySelectorAll('header optgroup')].map((g) => g.label + ': ' + g.children.length)`
		);
		expect(groups).toContain('FY27: 2');
	});
	it('keeps the choice from stage to stage', async () => {
		await p.go(`${app.url}/plan?scenario=fy27-budget&department=baltic`);
		await p.click('nav a', /^Drivers/);
		await p.says('h1', /^Drivers$/);
		expect(Object.fromEntries((await address()).searchParams)).toMatchObject({
			scenario: 'fy27-budget',
			department: 'baltic'
		});
		await p.click('nav a', /^Compare/);
		await p.says('h1', /^Variance: Kelpwick Baltic/);
	});
});

describe('settings', () => {
	it('show figures to the cent and in thousands, and stay', async () => {
		await p.go(`${app.url}/compare?scenario=actuals&department=kelpwick&period=2026-09`);
		const whole = number(await p.cellText('4000', 'a'));
		await (await p.find('summary[aria-label*="settings"]')).click();
		await choose('.menu label:nth-of-type(1) select', 'Cents');
		await p.driver.wait(async () => /\.\d\d$/.test(await p.cellText('4000', 'a')), 5000);
		expect(Math.round(number(await p.cellText('4000', 'a')))).toBe(whole);
		await choose('.menu label:nth-of-type(1) select', 'Thousands');
		await p.driver.wait(async () => /\d\.\d$/.test(await p.cellText('4000', 'a')), 5000);
		await p.go(`${app.url}/compare?scenario=actuals&department=kelpwick&period=2026-09`);
		expect(number(await p.cellText('4000', 'a'))).toBeCloseTo(whole / 1000, 1);
		// Grids that are typed in never show thousands.
		await p.go(`${app.url}/plan?scenario=fy28-budget&department=dealer-sales`);
		expect(number(await p.cellText('6000', '2027-04'))).toBeGreaterThan(10_000);
		await (await p.find('summary[aria-label*="settings"]')).click();
		await choose('.menu label:nth-of-type(1) select', 'Whole');
	});
	it('turn dark and back', async () => {
		const ground = () => p.driver.executeScript('return getComputedStyle(document.body).backgroundColor');
		const light = await ground();
		await choose('.menu label:last-of-type select', 'Dark');
		expect(await ground()).not.toBe(light);
		await p.go(`${app.url}/drivers`);
		expect(await ground()).not.toBe(light);
		await (await p.find('summary[aria-label*="settings"]')).click();
		await choose('.menu label:last-of-type select', 'Light');
		expect(await ground()).toBe(light);
	});
});

describe('the variance report', () => {
	it('against last year, year to date, by threshold, with departments', async () => {
		await p.go(`${app.url}/compare?scenario=actuals&department=kelpwick&period=2026-09`);
		await choose('.controls select', 'Last year');
		await p.says('.top p', /against Last year/);
		await p.click('[aria-label="Span"] button', 'Year to date');
		await p.says('h1', /April 2026 – September 2026/);
		const total = number(await p.cellText('4000', 'a'));
		await (await p.find('[data-row="4000"] .toggle')).click();
		const parts = await Promise.all(
			['sales', 'baltic'].map(async (d) => number(await p.cellText(`4000@${d}`, 'a')))
		);
		expect(Math.abs(parts[0] + parts[1] - total)).toBeLessThanOrEqual(1);
		const amount = await p.find('input[aria-label="Threshold amount"]');
		await amount.sendKeys(Key.chord(Key.CONTROL, 'a'), '10000000', Key.TAB);
		await p.says('.top p', /0 accounts are over the threshold/);
		expect((await address()).searchParams.get('amount')).toBe('10000000');
	});
	it('opens last year’s figure as last year’s', async () => {
		await (await p.cell('4000', 'b')).click();
		await p.says('aside p', /Apr 25 – Sep 25/);
		await p.click('aside button', /^Sales/);
		await p.says('aside p', /Sales/);
		await p.click('aside button', /Back/);
		await p.says('aside p', /Kelpwick Boatworks/);
		await (await p.find('aside [aria-label="Close the side sheet"]')).click();
		await p.gone('aside');
	});
	it('folds a group to its total', async () => {
		await p.go(`${app.url}/compare?scenario=actuals&department=kelpwick&period=2026-09`);
		await (await p.find('[data-row="heading:boats"] .toggle')).click();
		await p.gone('[data-row="4000"]');
		expect(await p.cellText('boats', 'a')).not.toBe('');
		await (await p.find('[data-row="boats"] .toggle')).click();
		await p.cell('4000', 'a');
	});
});

describe('typing', () => {
	it('says what is no number and leaves the cell open', async () => {
		await p.go(`${app.url}/plan?scenario=fy28-budget&department=rigging`);
		await (await p.cell('5210', '2027-04')).click();
		await p.keys('12x', Key.ENTER);
		await p.told(/“12x” is no number/);
		await p.keys(Key.ESCAPE);
		expect((await p.driver.findElements(By.css('.unsaved'))).length).toBe(0);
	});
	it('reads brackets, thousands and k; Tab goes right, Enter down, Escape gives up', async () => {
		await (await p.cell('5210', '2027-04')).click();
		await p.keys('(1,250)', Key.TAB, '3k', Key.TAB, '7', Key.ESCAPE);
		expect(await p.cellText('5210', '2027-04')).toBe('−1,250');
		expect(await p.cellText('5210', '2027-05')).toBe('3,000');
		await p.says('.count', /2 cells not saved/);
	});
	it('warns before what is not saved would be lost', async () => {
		await p.click('nav a', /^Collect/);
		const question = await p.driver.switchTo().alert();
		expect(await question.getText()).toMatch(/2 cells not saved\. Leave and lose them\?/);
		await question.dismiss();
		await p.says('h1', /Rigging/);
		await p.click('button', 'Discard');
		await p.gone('.unsaved');
	});
	it('pastes what fits and says what does not', async () => {
		await (await p.cell('5210', '2027-04')).click();
		await p.paste('1\t2\tthree\n4\t5\t6');
		// The second row is a total and cannot be typed: what is left out is said before.
		await p.says('dialog[open] h3', /^Paste 2 cells\?$/);
		await p.says('dialog[open] p', /^4 cells would be left out\.$/);
		await p.says('dialog[open] tr', /Jun\s+three\s+This is no number/);
		await p.says('dialog[open] tr', /A total of the accounts under it/);
		expect((await p.driver.findElements(By.css('.unsaved'))).length).toBe(0);
		await p.click('dialog[open] button', 'Paste 2 cells');
		await p.told(/2 cells pasted, 4 left out\./);
		await p.cellShows('5210', '2027-05', '2');
		await p.click('button', 'Discard');
	});
	it('copies out what is shown as plain numbers', async () => {
		await (await p.cell('5100', '2027-04')).click();
		await p.driver.actions().keyDown(Key.SHIFT).sendKeys(Key.ARROW_RIGHT).keyUp(Key.SHIFT).perform();
		const copied = await p.driver.executeScript(
			`const data = new DataTransfer(); const e = new ClipboardEvent('copy', { clipboardData: data, bubbles: true, cancelable: true });
			document.activeElement.dispatchEvent(e); return data.getData('text/plain')`
		);
		expect(copied).toMatch(/^\d+(\.\d+)?\t\d+(\.\d+)?$/);
	});
	it('shows accounts that are empty when asked', async () => {
		const rows = async () => Number(await (await p.find('[role=treegrid]')).getAttribute('aria-rowcount'));
		const few = await rows();
		await p.click('button', 'Show all accounts');
		await p.driver.wait(async () => (await rows()) > few + 20, 5000);
		await p.click('button', 'Hide empty accounts');
	});
	it('leads to an account by name', async () => {
		await p.chord(Key.CONTROL, 'k');
		await p.keys('tank nothing');
		await p.says('[role=option]', /Nothing has this name/);
		await p.driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).perform();
		await p.keys('subcontractors', Key.ENTER);
		await p.driver.wait(async () => (await address()).searchParams.get('account') === '5210', 5000);
		await p.find('[data-row="5210"] .active');
	});
});

describe('a driver model', () => {
	it('unfolds a line, filters, types into rows, and changes a formula in another scenario too', async () => {
		await p.go(`${app.url}/drivers/boat_sales?scenario=fy28-budget`);
		await (await p.find('[data-row="units"] .toggle')).click();
		await p.says('.filters', /155 rows/);
		await p.cell('units@tern-9|dealer|south', '2027-04');
		await choose('.filters label:nth-of-type(1) select', 'Kayaks');
		await p.says('.filters', /44 rows/);
		const cell = 'units@eider-10|dealer|south';
		const total = number(await p.cellText('units', '2027-04'));
		const was = number(await p.cellText(cell, '2027-04'));
		await (await p.cell(cell, '2027-04')).click();
		await p.keys(String(was + 100), Key.ENTER);
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 cell saved/);
		await p.cellShows('units', '2027-04', (total + 100).toLocaleString('en-GB'));
		await (await p.cell(cell, '2027-04')).click();
		await p.keys(' ');
		await p.says('aside h3', /^Typed in$/);
		await p.says('aside .muted', /Last by Maren Holt/);
		await p.click('aside [role=tab]', /^History/);
		await p.says('aside .change', new RegExp(`${was} → ${was + 100}`));
		await p.keys(Key.ESCAPE);
	});
	it('says why totals are not typed, and what a total is', async () => {
		await (await p.find('[data-row="units"] .toggle')).click();
		await (await p.cell('revenue', '2027-04')).click();
		await p.keys('5');
		await p.told(/cannot be typed/);
		await p.keys(' ');
		await p.told(/44 rows together\. Open one month of one row/);
	});
});

describe('how figures are written', () => {
	it('is the user’s own choice, kept on the server, for reading and for typing', async () => {
		await p.go(`${app.url}/plan?scenario=fy28-budget&department=rigging`);
		const before = await (await p.find('.row')).getRect();
		await (await p.find('header summary')).click();
		await choose('header .line:nth-of-type(2) select', '1.234,50');
		await p.driver.wait(async () => /\d\.\d{3}/.test(await p.cellText('5100', '2027-04')), 5000);
		await choose('header .line:nth-of-type(4) select', 'Dense');
		await p.driver.wait(async () => (await (await p.find('.row')).getRect()).height < before.height, 5000);
		await p.keys(Key.ESCAPE);
		await (await p.cell('5210', '2027-04')).click();
		await p.keys('1.250,5', Key.ENTER);
		await p.cellShows('5210', '2027-04', '1.251');
		await p.click('button', 'Discard');
		await p.go(`${app.url}/plan?scenario=fy28-budget&department=rigging`);
		expect(await p.cellText('5100', '2027-04')).toMatch(/\d\.\d{3}/);
		await (await p.find('header summary')).click();
		await choose('header .line:nth-of-type(2) select', '1,234.50');
		await choose('header .line:nth-of-type(4) select', 'Roomy');
		await p.keys(Key.ESCAPE);
	});
});

describe('rounds and months', () => {
	it('opens a round over chosen departments', async () => {
		await p.go(`${app.url}/collect`);
		await p.click('button', /^Open a round/);
		await (await p.find('#round-name')).sendKeys('Rest of the year');
		await choose('#round-scenario', 'FY27 Forecast 6+6');
		await (await p.find('#round-due')).sendKeys('11302026');
		await p.click('dialog button', 'Open round');
		await p.says('h1', /^Rest of the year$/);
		await p.says('[aria-label="Show by state"] button', /^not started 11$/);
		await p.click('.rounds a', /^FY28 Budget/);
		await p.says('h1', /^FY28 Budget, first pass$/);
		await p.click('[aria-label="Show by state"] button', /^returned/);
		await p.says('tbody tr', /^Dealer Sales returned/);
		expect((await p.driver.findElements(By.css('tbody tr'))).length).toBe(1);
	});
	it('copies, locks and unlocks a scenario, and reopens a month, each with its reason', async () => {
		await p.go(`${app.url}/forecast?scenario=fy27-forecast-6-6`);
		const row = () => p.named('tr', /^FY27 Forecast 6\+6/);
		const choose = async (name: RegExp) => {
			await (await row()).findElement(By.css('.dots')).click();
			await p.click('[role=menuitem]', name);
		};
		await choose(/^Copy …/);
		const name = await p.find('#answer');
		await name.clear();
		await name.sendKeys('Warm winter');
		await p.click('dialog button', 'Copy');
		await p.says('tr', /^Warm winter what-if/);
		await choose(/^Lock/);
		await p.told(/FY27 Forecast 6\+6 is locked/);
		await choose(/^Unlock …/);
		await (await p.find('#answer')).sendKeys('One correction.');
		await p.click('dialog button', 'Unlock');
		await p.told(/is unlocked/);
		await p.click('button', /^Reopen Sep 26/);
		await (await p.find('#answer')).sendKeys('A late invoice.');
		await p.click('dialog button', 'Reopen');
		await p.says('h2', /September 2026 is loaded and open/);
	});
});

describe('a formula in the editor', () => {
	it('is completed by name, with words for each line and function', async () => {
		await p.go(`${app.url}/drivers/boat_sales?scenario=fy27-forecast-6-6`);
		await (await p.cell('price', 'formula')).click();
		const editor = await p.find('.cm-content');
		await editor.sendKeys(Key.chord(Key.CONTROL, 'a'), 'list_price * assumptions.price_i');
		await p.says('.cm-tooltip-autocomplete li', /assumptions\.price_index/);
		await p.driver.sleep(120);
		await p.keys(Key.ENTER);
		await p.says('.cm-content', /^list_price \* assumptions\.price_index$/);
		await p.keys(' * (1 - disc');
		await p.says('.cm-tooltip-autocomplete li', /discount[\s\S]*Discount/);
		await p.keys(Key.ESCAPE);
		await p.says('.errors li', /At character \d+: A closing bracket “\)” is missing/);
		await p.click('dialog button', 'Cancel');
		await p.gone('.cm-content');
	});
});

describe('those who read', () => {
	it('a viewer sees the plan and the variances, and nothing to change them with', async () => {
		await p.signIn(app.url, at('beth.crane'));
		await p.says('h1', /^Variance: Kelpwick Boatworks/);
		await p.go(`${app.url}/plan?scenario=fy28-budget&department=dealer-sales`);
		await p.says('.top p', /Your role reads figures/);
		for (const css of ['.cell.editable', '.bar button'])
			expect((await p.driver.findElements(By.css(css))).length, css).toBe(0);
		await (await p.cell('4010', '2027-04')).click();
		await p.keys('5', ' ');
		await p.says('aside h2', /^Kayaks$/);
		await p.go(`${app.url}/drivers/boat_sales`);
		await p.says('.top p', /changed by analysts/);
		await (await p.cell('price', 'formula')).click();
		expect(await (await p.named('dialog button', 'Save formula')).isEnabled()).toBe(false);
		await p.click('dialog button', 'Cancel');
	});
	it('a reviewer begins where plans wait, and opens one from there', async () => {
		await p.signIn(app.url, at('oliver.strand'));
		// The newest round stands first.
		await p.says('h1', /^Rest of the year$/);
		await p.click('.rounds a', /^FY28 Budget/);
		await p.click('td a', 'Hull Shop');
		await p.says('h1', /^Department plan: Hull Shop$/);
		await p.says('.top p', /submission submitted/);
		await p.says('.under', /^FY28 Q1$/);
	});
	it('are told plainly what is not open to them', async () => {
		await p.go(`${app.url}/setup/feed`);
		await p.says('h1', /^Not open to you$/);
		await p.says('.error p', /Your role \(reviewer\) may not run feeds/);
		await p.go(`${app.url}/nowhere`);
		await p.says('h1', /^Not found$/);
	});
	it('made the browser complain about nothing but what was refused', async () => {
		expect((await p.complaints()).filter((c) => !/40[34]/.test(c))).toEqual([]);
	});
});
