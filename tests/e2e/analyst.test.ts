/** An analyst's afternoon, figure by figure: totals spread, prices raised on top, tried, adopted, taken back. */
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PlanRow } from '../../src/lib/core/views/plan-rows';
import { Client, startApp, type App } from '../support/app';
import { By, Person } from '../support/browser';
import { modelCells, sum } from '../support/model-cells';

let app: App;
let p: Person;
let client: Client;
let scenario = '';
const MONTHS = { from: '2027-04', to: '2028-03' };
/** September 2027, counted from April. */
const SEPTEMBER = 5;
const KAYAK = 'eider-10';
beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	client = await Client.signIn(app, 'maren.holt@kelpwick.example');
	scenario = (await client.post('scenarios', { from: 'fy28-budget', name: 'Afternoon', kind: 'what-if' }))
		.code;
});
afterAll(async () => {
	await p.close();
	await app.stop();
});

const window = () => new URLSearchParams({ scenario, ...MONTHS }).toString();
const cells = (line: string, where = '', months = MONTHS) =>
	modelCells(client, { model: 'boat_sales', scenario, ...months, line, where });
const assumption = async (line: string) =>
	[...(await modelCells(client, { model: 'assumptions', scenario, ...MONTHS, line })).values()][0];
const cents = (v: number) => Math.round(v * 100);

/** Net revenue of products, from what is typed: units × list price × price index × (1 − discount), month by month. */
async function revenueOf(where: string, raised = (_month: number) => 1): Promise<number> {
	const [units, prices, discounts, index] = await Promise.all([
		cells('units', where),
		cells('list_price', where),
		cells('discount', where),
		assumption('price_index')
	]);
	return sum(
		[...units].flatMap(([row, months]) =>
			months.map((n, m) => n * prices.get(row)![m] * raised(m) * index[m] * (1 - discounts.get(row)![m]))
		)
	);
}
/** The result, and its non-cash parts, added up from every account in every department, in pounds. */
async function resultFromCells(): Promise<{ profit: number; revenue: number; nonCash: number }> {
	const whole: PlanRow[] = (await client.get(`plan?${window()}&department=kelpwick`)).rows;
	const parents = new Map(whole.map((r) => [r.account, r.parent]));
	const isUnder = (account: string, group: string): boolean =>
		account === group || (parents.get(account) != null && isUnder(parents.get(account)!, group));
	const leaves = await leafDepartments();
	let [profit, revenue, nonCash] = [0, 0, 0];
	for (const department of leaves) {
		const { rows } = (await client.get(`plan?${window()}&department=${department}&money=reporting`)) as {
			rows: PlanRow[];
		};
		for (const row of rows.filter((r) => r.leaf && isUnder(r.account, 'profit'))) {
			const value = sum(row.cells.map((c) => (c as number | null) ?? 0));
			profit += row.type === 'expense' ? -value : value;
			if (isUnder(row.account, 'revenue')) revenue += value;
			if (isUnder(row.account, 'depreciation') || row.account === '6410') nonCash += value;
		}
	}
	return { profit, revenue, nonCash };
}
async function leafDepartments(department = 'kelpwick'): Promise<string[]> {
	const { rights } = (await client.get(
		`plan/parts?${window()}&department=${department}&accounts=profit`
	)) as {
		rights: Record<string, unknown>;
	};
	const children = Object.keys(rights);
	if (!children.length) return [department];
	return (await Promise.all(children.map((c) => leafDepartments(c)))).flat();
}

/** What the what-if page says, to the cent: 0 without, 1 with, 2 the difference. */
async function said(measure: string, column: number): Promise<number> {
	const row = await p.find(`tr[data-measure="${measure}"]`);
	const cell = (await row.findElements(By.css('td')))[column];
	return Number((await cell.getAttribute('title'))!.replace(/[^\d.−-]/g, '').replace('−', '-'));
}
const becomes = (measure: string, column: number, value: number) =>
	p.driver.wait(
		async () => cents(await said(measure, column)) === cents(value),
		15_000,
		`${measure} does not become ${value}`
	);

describe('an afternoon', () => {
	it('sets a kayak’s units of the year to a new total, in proportion to last year', async () => {
		const lastYear = await cells('units', `product:${KAYAK}`, { from: '2026-04', to: '2027-03' });
		await p.go(
			`${app.url}/drivers/boat_sales?${window()}&rows=line,product&lines=units&where=product:${KAYAK}&fold=2027-04,2027-07,2027-10,2028-01`
		);
		await (await p.cell('units', 'total')).click();
		await p.keys('483', Key.ENTER);
		await p.says('h3', /^Units, Apr 27 – Mar 28$/);
		await (await p.find('#how option[value="@last-year"]')).click();
		await p.says('.sum b', /→ 483$/);
		await p.click('button', /^Spread$/);
		await p.click('button', 'Save');
		await p.told(/cells saved/);
		const units = await cells('units', `product:${KAYAK}`);
		expect(sum([...units.values()].flat())).toBe(483);
		const base = sum([...lastYear.values()].flat());
		expect(base).toBeGreaterThan(0);
		for (const [row, months] of units)
			months.forEach((n, m) => {
				expect(Number.isInteger(n)).toBe(true);
				expect(Math.abs(n - (483 * lastYear.get(row)![m]) / base)).toBeLessThan(1);
			});
	});
	it('sets all products’ units of a channel to a new grand total in one step', async () => {
		const [before, others] = [await cells('units', 'channel:dealer'), await cells('units', 'channel:web')];
		const total = sum([...before.values()].flat());
		const wanted = Math.round(total * 1.07);
		await p.go(
			`${app.url}/drivers/boat_sales?${window()}&rows=line,product&across=channel&lines=units&fold=2027-04,2027-07,2027-10,2028-01`
		);
		await (await p.cell('units', 'dealer/total')).click();
		await p.keys(String(wanted), Key.ENTER);
		await p.says('h3', /^Units/);
		await p.click('button', /^Spread$/);
		await p.click('button', 'Save');
		await p.told(/cells saved/);
		const after = await cells('units', 'channel:dealer');
		expect(sum([...after.values()].flat())).toBe(wanted);
		for (const [row, months] of after)
			months.forEach((n, m) => expect(Math.abs(n - (before.get(row)![m] * wanted) / total)).toBeLessThan(1));
		expect(await cells('units', 'channel:web')).toEqual(others);
	});
	it('raises list prices of a family on top; profit and loss, cash and margin follow at once, to the cent', async () => {
		const before = await resultFromCells();
		const kayaks = await revenueOf('product:kayaks');
		const raised = await revenueOf('product:kayaks', (m) => (m >= SEPTEMBER ? 1.035 : 1));
		await p.go(`${app.url}/forecast/what-if?${window()}&department=kelpwick`);
		await p.click('button', /^Add adjustment …$/);
		await (await p.find('#adjustment-name')).sendKeys('Kayaks dearer');
		await (await p.find('#line-0 option[value="boat_sales.list_price"]')).click();
		await (await p.find('#where-0-product option[value="kayaks"]')).click();
		await (await p.find('#from-0 option[value="2027-09"]')).click();
		await (await p.find('#amount-0')).sendKeys('3.5');
		await p.click('dialog[open] button', /^Add$/);
		await (await p.find('label.more option[value="account:4010"]')).click();
		await becomes('account:4010', 0, kayaks);
		await becomes('account:4010', 1, raised);
		await becomes('account:4010', 2, raised - kayaks);
		expect(cents(await said('account:revenue', 0))).toBe(cents(before.revenue));
		expect(cents(await said('account:profit', 0))).toBe(cents(before.profit));
		expect(cents(await said('cash', 0))).toBe(cents(before.profit + before.nonCash));
		// What is saved says the same, added up from every cell: also what rests on sales, as delivery charged does.
		await p.driver.wait(async () => (await resultFromCells()).revenue > before.revenue + 1, 15_000);
		const after = await resultFromCells();
		expect(cents(await said('account:revenue', 1))).toBe(cents(after.revenue));
		expect(cents(await said('account:profit', 1))).toBe(cents(after.profit));
		expect(cents(await said('cash', 1))).toBe(cents(after.profit + after.nonCash));
		expect(after.nonCash).toBe(before.nonCash);
		const margin = await p.driver.executeScript<string>(
			`return [...document.querySelectorAll('tr.margin')].find((r) => r.textContent.includes('Profit before tax')).querySelectorAll('td')[1].textContent`
		);
		expect(margin.trim()).toBe(`${((after.profit / after.revenue) * 100).toFixed(1)} %`);
	});
	it('says in the bridge how much each adjustment does, and the steps lead from one total to the other', async () => {
		await p.click('button', /^Add adjustment …$/);
		await (await p.find('#adjustment-name')).sendKeys('Cheaper freight');
		await (await p.find('#line-0 option[value="accounts.5050"]')).click();
		await (await p.find('#amount-0')).sendKeys('−8');
		await p.click('dialog[open] button', /^Add$/);
		await p.says('article b.name', /Kayaks dearer/);
		await p.driver.wait(
			async () => (await p.driver.findElements(By.css('.chart .figure'))).length === 4,
			15_000
		);
		const after = await resultFromCells();
		await becomes('account:profit', 1, after.profit);
		const shown = (
			await Promise.all((await p.driver.findElements(By.css('.chart .figure'))).map((f) => f.getText()))
		).map((t) => Number(t.replace(/[^\d.−-]/g, '').replace('−', '-')));
		expect(shown[0]).toBe(Math.round(await said('account:profit', 0)));
		expect(shown[3]).toBe(Math.round(after.profit));
		expect(Math.abs(shown[0] + shown[1] + shown[2] - shown[3])).toBeLessThanOrEqual(2);
		expect(Math.abs(shown[1] + shown[2] - (await said('account:profit', 2)))).toBeLessThanOrEqual(1);
	});
	it('switches one off and on', async () => {
		const both = await resultFromCells();
		const lever = await p.find('[role=switch][aria-label="Kayaks dearer"]');
		await lever.click();
		await p.driver.wait(async () => cents((await resultFromCells()).profit) < cents(both.profit), 15_000);
		const one = await resultFromCells();
		await becomes('account:profit', 1, one.profit);
		await lever.click();
		await becomes('account:profit', 1, both.profit);
		await p.driver.wait(async () => cents((await resultFromCells()).profit) === cents(both.profit), 15_000);
	});
	it('adopts one without moving a figure, and takes it back to the last cell', async () => {
		const [prices, others, before] = [
			await cells('list_price', 'product:kayaks'),
			await cells('list_price', 'product:dinghies'),
			await resultFromCells()
		];
		const article = await p.driver.findElement(By.xpath('//article[.//b[text()="Kayaks dearer"]]'));
		await article.findElement(By.xpath('.//button[normalize-space()="Adopt"]')).click();
		await p.says('.adopted', /“Kayaks dearer” is written into the inputs/);
		const adopted = await resultFromCells();
		expect(cents(adopted.profit)).toBe(cents(before.profit));
		expect(cents(adopted.revenue)).toBe(cents(before.revenue));
		for (const [row, months] of await cells('list_price', 'product:kayaks'))
			months.forEach((v, m) => expect(v).toBeCloseTo(prices.get(row)![m] * (m >= SEPTEMBER ? 1.035 : 1), 9));
		expect(await cells('list_price', 'product:dinghies')).toEqual(others);
		await p.click('button', 'Take it back');
		await p.told(/The inputs are as they were/);
		expect(await cells('list_price', 'product:kayaks')).toEqual(prices);
		expect(await resultFromCells()).toEqual(before);
		expect(await p.complaints()).toEqual([]);
	});
});
