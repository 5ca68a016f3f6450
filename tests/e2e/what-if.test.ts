/** A what-if from end to end: a grand total spread, an adjustment tried, bridged, switched, written in and taken back. */
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { By, Person } from '../support/browser';
import { modelCells, sum } from '../support/model-cells';

let app: App;
let p: Person;
let client: Client;
const FORECAST = 'fy27-forecast-6-6';
const WINDOW = 'scenario=dearer-kayaks&from=2026-10&to=2027-09';
beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	client = await Client.signIn(app, 'maren.holt@kelpwick.example');
});
afterAll(async () => {
	await p.close();
	await app.stop();
});

const cells = (line: string, where = '', scenario = 'dearer-kayaks') =>
	modelCells(client, { model: 'boat_sales', scenario, from: '2026-10', to: '2027-09', line, where });
const account = async (code: string, scenario = 'dearer-kayaks'): Promise<number> => {
	const { rows } = await client.get(`plan?${WINDOW.replace('dearer-kayaks', scenario)}&department=kelpwick`);
	return rows.find((r: { account: string }) => r.account === code).total;
};
const number = (text: string) => Number(text.replace(/[^\d.−-]/g, '').replace('−', '-'));
/** A key figure's cell on the what-if page: 0 without, 1 with, 2 the difference. */
const shown = async (measure: string, column: number) =>
	number(
		await (
			await p.find(`tr[data-measure="account:${measure}"]`)
		)
			.findElements(By.css('td'))
			.then((list) => list[column].getText())
	);
const becomes = async (measure: string, column: number, fits: (v: number) => boolean) => {
	await p.driver.wait(
		async () => fits(await shown(measure, column)),
		15_000,
		`${measure} does not become it`
	);
	return shown(measure, column);
};

describe('a what-if', () => {
	it('spreads all products of a channel to a new grand total in one step, on a pivoted grid', async () => {
		await p.go(
			`${app.url}/drivers/boat_sales?${WINDOW.replace('dearer-kayaks', FORECAST)}&rows=line,product&across=channel&lines=units&where=product:kayaks&fold=2026-10,2027-01,2027-04,2027-07`
		);
		const before = await cells('units', 'product:kayaks,channel:dealer', FORECAST);
		const others = await cells('units', 'product:kayaks,channel:web', FORECAST);
		await (await p.cell('units', 'dealer/total')).click();
		await p.keys('1500', Key.ENTER);
		await p.says('h3', /^Units, Oct 26 – Sep 27$/);
		await (await p.find('#how option[value="@last-year"]')).click();
		await p.says('.sum b', /→ 1,500$/);
		await p.click('button', /^Spread$/);
		await p.cellShows('units', 'dealer/total', '1,500');
		await p.click('button', 'Save');
		await p.told(/cells saved/);
		const after = await cells('units', 'product:kayaks,channel:dealer', FORECAST);
		expect(sum([...after.values()].flat())).toBe(1500);
		expect([...after.values()].flat().every(Number.isInteger)).toBe(true);
		expect(after).not.toEqual(before);
		expect(await cells('units', 'product:kayaks,channel:web', FORECAST)).toEqual(others);
	});

	it('shows what an adjustment does at once, in the browser, and says how much each did', async () => {
		await p.go(`${app.url}/forecast/what-if?${WINDOW}&department=kelpwick`);
		await p.says('h1', /^What if: Dearer kayaks$/);
		await p.find('tr[data-measure="account:profit"]');
		const before = await becomes('profit', 1, (v) => v > 0);
		await p.click('button', /^Add adjustment …$/);
		await (await p.find('#adjustment-name')).sendKeys('Dinghy list prices');
		await (await p.find('#line-0 option[value="boat_sales.list_price"]')).click();
		await (await p.find('#where-0-product option[value="dinghies"]')).click();
		await (await p.find('#from-0 option[value="2027-01"]')).click();
		await (await p.find('#amount-0')).sendKeys('3.5');
		await p.click('dialog[open] button', /^Add$/);
		await p.says('article .words', /\+3\.5 % List price · Dinghies · from Jan 27/);
		const after = await becomes('profit', 1, (v) => v > before);
		// Price in another currency of thought: 3.5 % of what dinghies bring from January on, less what rests on it.
		const dinghies = await account('4000');
		expect(dinghies).toBeGreaterThan(0);
		const texts = await p.driver
			.findElements(By.css('.chart .figure'))
			.then((list) => Promise.all(list.map((t) => t.getText())));
		const [start, ...rest] = texts.map(number);
		const end = rest.pop()!;
		expect(rest).toHaveLength(4);
		// Shown to the pound, each may be off by half of one.
		expect(Math.abs(start + sum(rest) - end)).toBeLessThanOrEqual(3);
		expect(end).toBe(after);
		await p.driver.wait(async () => Math.round(await account('profit')) === after, 15_000);
	});
	it('switches one off and on', async () => {
		const all = await shown('profit', 1);
		const lever = await p.find('article[data-adjustment="kayak-prices"] [role=switch]');
		await lever.click();
		const without = await becomes('profit', 1, (v) => v < all);
		await p.driver.wait(async () => Math.round(await account('profit')) === without, 15_000);
		await lever.sendKeys(' ');
		await becomes('profit', 1, (v) => v === all);
		await p.driver.wait(async () => Math.round(await account('profit')) === all, 15_000);
	});
	it('is told by the server while the page has no scenario to work with yet, and comes back to what is kept', async () => {
		const all = await shown('profit', 1);
		const revenue = await shown('revenue', 1);
		await p.withoutReaching(['*/scenarios/*/package*'], async () => {
			await p.go(`${app.url}/forecast/what-if?${WINDOW}&department=kelpwick`);
			expect(await becomes('profit', 1, (v) => v > 0)).toBe(all);
			const lever = await p.find('article[data-adjustment="kayak-prices"] [role=switch]');
			await lever.click();
			const without = await becomes('revenue', 1, (v) => v < revenue);
			await p.driver.wait(async () => Math.round(await account('revenue')) === without, 15_000);
			await lever.sendKeys(' ');
			await becomes('revenue', 1, (v) => v === revenue);
			expect(await shown('profit', 1)).toBe(all);
			await p.driver.wait(async () => Math.round(await account('profit')) === all, 15_000);
		});
		await p.go(`${app.url}/forecast/what-if?${WINDOW}&department=kelpwick`);
		await becomes('profit', 1, (v) => v === all);
	});
	it('finds the value that reaches a goal', async () => {
		await p.click('[role=tab]', 'Reach a goal');
		const now = await shown('profit', 1);
		await (await p.find('#goal-figure')).sendKeys(String(now + 20_000));
		await (await p.find('#goal-of option[value="kayak-prices"]')).click();
		await p.click('.form button', 'Find');
		await p.says('.answer', new RegExp(`gives ${(now + 20_000).toLocaleString('en-GB')}`));
	});
	it('tells what moves the figure most, its range, and why it differs from another scenario', async () => {
		await p.click('[role=tab]', 'What matters most');
		await p.click('.form button', 'Compare');
		await p.find('svg[aria-label^="What moves"] rect.high');
		await p.click('[role=tab]', 'Range');
		const trials = await p.find('#trials');
		await trials.clear();
		await trials.sendKeys('300');
		await p.click('.form button', 'Draw');
		await p.says('.answer', /half of 300 trials lie between/);
		await p.click('[role=tab]', 'Why it differs');
		await (await p.find('#against option[value="fy27-forecast-6-6"]')).click();
		await p.click('.form button', 'Explain');
		await p.says('.small', /all orders.*the steps sum exactly/);
		// From what the other scenario shows to what is shown here, all adjustments tried here included.
		const texts = await p.driver
			.findElements(By.css('.chart .figure'))
			.then((list) => Promise.all(list.map((t) => t.getText())));
		expect(number(texts[0])).toBe(Math.round(await account('profit', FORECAST)));
		expect(number(texts.at(-1)!)).toBe(await shown('profit', 1));
	});
	it('writes one in without changing a figure, and takes it back to the last cell', async () => {
		const prices = await cells('list_price', 'product:kayaks');
		const profit = await account('profit');
		await p.click('article[data-adjustment="kayak-prices"] button', 'Adopt');
		await p.says('.adopted', /“Kayak list prices \+5 % from March” is written into the inputs: \d+ values/);
		expect(await account('profit')).toBeCloseTo(profit, 6);
		const raised = await cells('list_price', 'product:kayaks');
		for (const [row, months] of raised)
			months.forEach((v, i) => expect(v).toBeCloseTo(prices.get(row)![i] * (i < 5 ? 1 : 1.05), 9));
		await p.says('article[data-adjustment="kayak-prices"]', /Written into the inputs/);
		await p.click('button', 'Take it back');
		await p.told(/The inputs are as they were/);
		expect(await cells('list_price', 'product:kayaks')).toEqual(prices);
		expect(await account('profit')).toBe(profit);
		expect(await p.complaints()).toEqual([]);
	});
	it('may be tried by those who read, and keeps nothing', async () => {
		await p.signIn(app.url, 'oliver.strand@kelpwick.example');
		await p.go(`${app.url}/forecast/what-if?${WINDOW}&department=kelpwick`);
		await p.says('.top', /nothing is kept/);
		const profit = await account('profit');
		const all = await becomes('profit', 1, (v) => v === Math.round(profit));
		await (await p.find('article[data-adjustment="lakes-recover"] [role=switch]')).click();
		await becomes('profit', 1, (v) => v < all);
		expect(await account('profit')).toBe(profit);
		expect((await p.driver.findElements(By.css('article .icon'))).length).toBe(0);
	});
});
