/** Designing driver models through the browser: a new model, a new product, combination rules. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';

let app: App;
let p: Person;
const BUDGET = 'scenario=fy28-budget';

beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});

const plan = async (department: string) =>
	p.read<{ rows: { account: string; cells: (number | null)[] }[] }>(
		`plan?${BUDGET}&department=${department}&from=2027-04&to=2028-03`
	);
const account = async (department: string, code: string) =>
	(await plan(department)).rows.find((r) => r.account === code)!.cells;

describe('a new driver model', () => {
	it('is made from a template, gets a line, and posts to a department’s plan', async () => {
		await p.go(`${app.url}/drivers?${BUDGET}`);
		await p.click('button', 'New driver model …');
		await (await p.find('#model-name')).sendKeys('Yard jobs');
		await (await p.find('dialog select')).sendKeys('Jobs and hours');
		await p.click('dialog button', 'Make it');
		await p.says('h1', /^Yard jobs: lines and formulas/);
		await p.click('li button', /^Cost\s+hours/);
		await p.click('button', 'Add a line');
		const label = await p.find('.grid input');
		await label.clear();
		await label.sendKeys('Sundries');
		await p.click('label', /^\s*calculated/);
		await (await p.find('.cm-content')).sendKeys(Key.BACK_SPACE, 'cost * shar');
		await p.says('.faults', /shar/);
		expect(await (await p.named('button', /^Save/)).isEnabled()).toBe(false);
		for (let i = 0; i < 4; i++) await p.keys(Key.BACK_SPACE);
		await p.keys('0.1');
		await p.says('.strip', /Sundries/);
		await p.click('button', 'Add a posting …');
		await (await p.find('select[aria-label^="Account of posting"]')).sendKeys('6240');
		await (await p.find('select[aria-label^="Department of posting"]')).sendKeys('Refit Yard');
		await p.chord(Key.CONTROL, 's');
		await p.told(/Yard jobs is saved/);

		await p.click('a', 'Figures');
		await (await p.cell('jobs', '2027-04')).click();
		await p.keys('10', Key.TAB, Key.ARROW_DOWN, Key.ARROW_LEFT, '8', Key.ENTER);
		await (await p.cell('cost_rate', '2027-04')).click();
		await p.keys('30', Key.ENTER);
		await p.cellShows('sundries', '2027-04', '240');
		await p.chord(Key.CONTROL, 's');
		await p.told(/saved/);
		expect((await account('refit-yard', '6240'))[0]).toBeCloseTo(240, 6);
	});
	it('says which typed figures a change would take, takes them, and History brings them back', async () => {
		await p.go(`${app.url}/drivers/yard_jobs/design?${BUDGET}`);
		await p.click('li button', /^Jobs/);
		await p.click('label', /^\s*calculated/);
		await p.says('.strip', /Jobs/);
		await p.click('button', /^Save/);
		await p.says('dialog', /Jobs: 1 cell in FY28 Budget/);
		await p.click('dialog button', 'Save and take them out');
		await p.told(/is saved/);
		expect((await account('refit-yard', '6240'))[0] ?? 0).toBe(0);
		await p.go(`${app.url}/forecast/history?${BUDGET}`);
		await p.click('button', /^Take back/);
		await p.told(/taken back/i);
		expect((await account('refit-yard', '6240'))[0]).toBeCloseTo(240, 6);
	});
});

describe('a new product', () => {
	it('gets units and a price like a sibling’s and is in the P&L and the report at once', async () => {
		const before = (await account('kelpwick', '4010')) as number[];
		const report = async () => {
			await p.go(`${app.url}/compare?${BUDGET}&against=fy27-budget&period=2028-03&span=year`);
			return p.cellText('4010', 'a');
		};
		const reported = await report();
		await p.go(`${app.url}/drivers/members?${BUDGET}`);
		await p.click('button', 'Add a product …');
		await (await p.find('#member-like')).sendKeys('Scoter 14');
		await (await p.find('#member-name')).sendKeys('Petrel 15');
		await p.click('dialog button', 'Add');
		await p.told(/Petrel 15 is there, with 11 rows and \d+ figures/);
		await p.says('td', /Petrel 15/);
		const after = (await account('kelpwick', '4010')) as number[];
		const raw = async (product: string) => {
			const view = await p.read<{ rows: { cells: (number | null)[] }[]; spans: unknown[] }>(
				`models/boat_sales?${BUDGET}&from=2027-04&to=2028-03&lines=revenue&where=product:${product}&rows=line`
			);
			return view.rows[0].cells.slice(0, 12) as number[];
		};
		const [own, sibling] = [await raw('petrel-15'), await raw('scoter-14')];
		const cent = (v: number) => Math.round(v * 100);
		own.forEach((v, m) => {
			expect(cent(v)).toBe(cent(sibling[m]));
			expect(cent(after[m] - before[m])).toBe(cent(v));
		});
		expect(await report()).not.toBe(reported);
		await p.go(`${app.url}/drivers/boat_sales?${BUDGET}&open=units&where=product:petrel-15,channel:dealer`);
		await p.says('[role="rowheader"]', /Petrel 15 · Dealer · Lakes/);
	});
});

describe('combination rules', () => {
	it('hatch what they block, refuse what is typed there, and let it be taken out', async () => {
		await p.go(`${app.url}/drivers/combinations?${BUDGET}`);
		await p.says('section', /Dinghies never with Web/);
		const islands = await p.find('section[aria-label="Islands: no touring boats"]');
		await (await islands.findElement(By.css('summary'))).click();
		await p.says('details li', /Boat sales, .*Islands/);
		await p.driver.executeScript(
			'document.querySelector(\'[aria-label="Switch Islands: no touring boats"]\').click()'
		);
		await p.told(/is on. Figures stay/);
		await p.go(`${app.url}/drivers/boat_sales?${BUDGET}&open=units&where=product:scoter-16,region:islands`);
		const at = 'units@scoter-16|dealer|islands';
		const cell = await p.cell(at, '2027-04');
		expect(await cell.getAttribute('class')).toMatch(/blocked/);
		const was = await p.cellText(at, '2027-04');
		await cell.click();
		await p.keys('7');
		await p.told(/“Islands: no touring boats” keeps data out/);
		await p.keys(Key.DELETE);
		expect(await p.cellText(at, '2027-04')).not.toMatch(/\d/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 cell saved/);
		expect(await p.cellText(at, '2027-04')).not.toMatch(/\d/);
		expect(was).toMatch(/\d/);
	});
	it('are made by ticking members, with an exception, and show what they would block', async () => {
		await p.go(`${app.url}/drivers/combinations?${BUDGET}`);
		await p.click('button', 'New rule …');
		await (await p.find('#rule-name')).sendKeys('Boards by dealers');
		await p.click('ul[aria-label="Leading, members"] label', /Paddleboards/);
		await p.click('ul[aria-label="Leading, members"] label', /Plover 10/);
		await p.click('ul[aria-label="Other, members"] label', /Dealer/);
		await p.click('label', /may hold data only with those/);
		await p.says('dialog b', /Paddleboards without Plover 10 only with Dealer/);
		await p.says('dialog', /14 rows of \d+ in Boat sales blocked/);
		await p.click('dialog button', 'Add');
		await p.says('section h2', /Boards by dealers/);
		await p.click('button', /^remove\s*Boards by dealers/);
		await p.says('.notice', /is removed/);
		await p.click('.notice button', 'Undo');
		await p.told(/is back/);
		await p.says('section h2', /Boards by dealers/);
	});
});
