/** Several currencies in the browser: rates typed and loaded, figures in one or the other, currency told from performance. */
import { afterEach, beforeEach, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';

let app: App;
let p: Person;
beforeEach(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
});
afterEach(async () => {
	await p.close();
	await app.stop();
});
const number = (text: string) => Number(text.replaceAll(',', '').replace('−', '-').replace('–', '0'));
const pick = (label: string, value: string) =>
	p.driver.executeScript(
		`const s = [...document.querySelectorAll('header label')].find((l) => l.textContent.trim().startsWith(arguments[0])).querySelector('select');
		s.value = arguments[1];
		s.dispatchEvent(new Event('change', { bubbles: true }));`,
		label,
		value
	);

it('a contributor plans in the currency of their company, and looks at it in the other', async () => {
	await p.signIn(app.url, 'eero.lahti@kelpwick.example');
	await p.go(`${app.url}/plan?scenario=fy28-budget&department=baltic-sales`);
	await p.says('main p.muted', /^EUR · /);
	await p.settled();
	const salaries = number(await p.cellText('6000', '2027-04'));
	await pick('In', 'reporting');
	await p.says(
		'main p.muted',
		/^GBP · .*It is planned in EUR; here it is shown in GBP\. Choose EUR above to type\./
	);
	// At the budget's rate of 0.84.
	expect(number(await p.cellText('6000', '2027-04'))).toBe(Math.round(salaries * 0.84));
	expect(await p.driver.getCurrentUrl()).toContain('money=reporting');
	await p.driver.navigate().back();
	await p.says('main p.muted', /^EUR · /);
	expect(number(await p.cellText('6000', '2027-04'))).toBe(salaries);
});

it('a total over departments of several currencies is typed in the reporting one, and lands in each in its own', async () => {
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	const plan = (department: string) =>
		`${app.url}/plan?scenario=fy27-forecast-6-6&department=${department}&from=2026-10&to=2027-03&account=6200`;
	await p.go(plan('baltic-sales'));
	await p.settled();
	const euro = number(await p.cellText('6200', '2026-12'));
	await p.go(plan('kelpwick'));
	await p.settled();
	const all = number(await p.cellText('6200', '2026-12'));
	const goal = Math.round(all * 1.5);
	await (await p.cell('6200', '2026-12')).click();
	await p.keys(String(goal), Key.ENTER);
	await p.says('dialog', /Departments in other currencies get their part at the average rate/);
	await p.click('button', /^Spread$/);
	await p.cellShows('6200', '2026-12', goal.toLocaleString('en'));
	await p.click('button', 'Save');
	await p.told(/cells saved/);
	expect(number(await p.cellText('6200', '2026-12'))).toBe(goal);
	await p.go(plan('baltic-sales'));
	await p.settled();
	expect(Math.abs(number(await p.cellText('6200', '2026-12')) - euro * (goal / all))).toBeLessThanOrEqual(2);
	// A department of its own currency, looked at in the other, is not typed.
	await p.go(`${plan('baltic-sales')}&money=reporting`);
	await p.settled();
	await (await p.cell('6200', '2026-12')).click();
	await p.keys('5');
	await p.told(/^It is planned in EUR; here it is shown in GBP\. Choose EUR above to type\./);
});

it('types a rate with the keyboard, and the report says what of it is currency', async () => {
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	const report = `${app.url}/compare?scenario=actuals&department=baltic&against=fy27-budget&period=2026-09&span=month`;
	await p.go(`${report}&money=reporting`);
	await p.says('main p.muted', /^GBP · Actuals against FY27 Budget/);
	await p.settled();
	const split = async () => {
		const cells = await Promise.all(
			['a', 'difference', 'currency', 'performance'].map((column) => p.cellText('revenue', column))
		);
		return cells.map(number);
	};
	const [before, difference, currency, performance] = await split();
	expect(Math.abs(currency + performance - difference)).toBeLessThanOrEqual(1);
	await p.go(`${app.url}/setup/currencies?from=2026-09&to=2026-12`);
	await p.says('main p', /^EUR is translated to GBP/);
	await p.settled();
	expect(await p.cellText('EUR/average', '2026-09')).toBe('0.8673');
	await p.tabTo(/treegrid/);
	await p.keys('-1', Key.ENTER);
	await p.chord(Key.CONTROL, 's');
	await p.told(/^A rate is above 0; EUR, average Sep 26 is not\. Nothing was saved\./);
	await p.click('button', 'Discard');
	await p.tabTo(/treegrid/);
	await p.keys(Key.ARROW_UP, Key.HOME, '0.9', Key.ENTER);
	await p.chord(Key.CONTROL, 's');
	await p.told(/^1 rate saved\. All that is translated by them follows\./);
	await p.go(`${report}&money=reporting`);
	await p.settled();
	const after = await split();
	expect(after[0]).toBeGreaterThan(before);
	expect(Math.abs(after[3] - performance)).toBeLessThanOrEqual(1);
	expect(Math.abs(after[2] - currency - (after[0] - before))).toBeLessThanOrEqual(2);
	// A figure opens into the amount and its rate, and on into the entries behind it.
	await (await p.cell('4010', 'a')).click();
	await p.says('aside h3', /^Departments in it$/);
	await p.click('aside li button', /^Baltic Sales/);
	await p.says('aside h3', /^Translated from EUR$/);
	await p.says('aside section p', /^At the average rate, 0\.9000 GBP for 1 EUR\.$/);
	await p.click('aside li button', /^In EUR/);
	await p.says('aside h3', /^Ledger entries/);
	// In its own currency nothing is split.
	await p.go(report);
	await p.says('main p.muted', /^EUR · Actuals against FY27 Budget/);
	expect(await p.driver.findElements({ css: '[data-column="performance"]' })).toHaveLength(0);
});

it('makes a set of rates, loads it from a list with its faults shown, and a scenario chooses it', async () => {
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	await p.go(`${app.url}/setup/currencies`);
	await p.click('button', 'New set …');
	await (await p.find('#rates-name')).sendKeys('Cautious rates');
	await p.click('dialog button', 'Make it');
	await p.told(/^“Cautious rates” is there\./);
	await p.says('main p', /^Nothing is translated by it yet/);
	await p.click('button', 'Paste or load …');
	const list = await p.find('#list-text');
	await list.sendKeys('EUR;2026-10;0,8;0,8\nEUX;2026-11;1;1');
	await p.says('dialog [role=alert] li', /^row 2: “EUX” is no currency/);
	await list.sendKeys(Key.chord(Key.CONTROL, 'a'), 'EUR;2026-10;0,8;0,81');
	await p.says('dialog li', /^EUR Oct 26\s?0\.8646 → 0\.8000\s?0\.8646 → 0\.8100$/);
	await p.click('dialog button', 'Load');
	await p.told(/^1 line loaded into “Cautious rates”\./);
	await p.go(`${app.url}/forecast`);
	await p.settled();
	await (await p.find('[aria-label="Actions for FY27 Forecast 6+6"]')).click();
	await p.click('[role=menuitem]', /^Name, folder/);
	await p.driver.executeScript(
		`const s = document.querySelector('#scenario-rates');
		s.value = [...s.options].find((o) => o.textContent.trim() === 'Cautious rates').value;
		s.dispatchEvent(new Event('change', { bubbles: true }));`
	);
	await p.click('dialog button', 'Save');
	await p.told(/^FY27 Forecast 6\+6 is changed\./);
	await p.go(`${app.url}/setup/currencies?set=cautious-rates`);
	await p.says('main p', /^Translated by it: FY27 Forecast 6\+6\./);
	// What is locked keeps its rates.
	await p.go(`${app.url}/setup/currencies?set=budget`);
	await p.says('main p', /FY27 Budget is locked, so rates up to Mar 27 stay\.$/);
	await p.settled();
	await p.tabTo(/treegrid/);
	await p.keys('0.9');
	await p.told(/^FY27 Budget is locked and translated by it: it stays\./);
});

it('gives a legal entity its currency, and refuses it where a locked scenario has figures', async () => {
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	await p.go(`${app.url}/setup/departments`);
	await p.click('main p button', 'Kelpwick Baltic Oy (EUR)');
	const currency = await p.find('#entity-currency');
	await currency.sendKeys(Key.chord(Key.CONTROL, 'a'), 'sek');
	await p.click('dialog button', 'Change');
	await p.says('dialog [role=alert]', /“Kelpwick Baltic Oy” has figures in “FY27 Budget”, which is locked/);
	await p.keys(Key.ESCAPE);
	await p.click('button', 'New legal entity …');
	await (await p.find('#entity-name')).sendKeys('Kelpwick Inc');
	await (await p.find('#entity-currency')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'USD');
	await p.says('dialog p', /^Its departments plan in USD/);
	await p.click('dialog button', 'Add');
	await p.told(/^Kelpwick Inc is there/);
	await p.go(`${app.url}/setup/currencies`);
	await p.says('main p', /^EUR and USD are translated to GBP/);
	await p.says('main p', /^Missing: USD average .*; USD closing /);
});

it('says of what several currencies make up that it is mixed, and shows each department in its own', async () => {
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	await p.go(`${app.url}/plan?scenario=fy28-budget&department=kelpwick`);
	await p.says('main p.muted', /^GBP/);
	await pick('In', 'local');
	await p.says('main p.muted', /^each in its own currency: amounts in several have no sum/);
	await p.cellShows('4000', '2027-04', 'mixed');
	expect(await p.driver.findElements({ css: '.errors' })).toHaveLength(0);
	await (await p.cell('4000', '2027-04')).click();
	await p.keys(Key.SPACE);
	await p.says(
		'aside p.problem',
		/^It is made of amounts in several currencies, which have no sum but in GBP/
	);
	await p.says('aside li button', /^Kelpwick Baltic/);
});
