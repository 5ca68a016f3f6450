/** A total is typed and lands exactly in the cells under it. */
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { Person } from '../support/browser';
import type { ModelFigures } from '../../src/lib/core/views/model-view';

let app: App;
let maren: Person;
let client: Client;
const WINDOW = 'scenario=fy27-forecast-6-6&from=2026-10&to=2027-03';
const WHERE = 'where=product:tern-9';

beforeAll(async () => {
	app = await startApp('demo/company');
	maren = await Person.open();
	await maren.signIn(app.url, 'maren.holt@kelpwick.example');
	client = await Client.signIn(app, 'maren.holt@kelpwick.example');
});
afterAll(async () => {
	await maren.close();
	await app.stop();
});

/** Units as they are saved: row → months. */
async function units(): Promise<Map<string, number[]>> {
	const { rows } = (await client.get(
		`models/boat_sales?${WINDOW}&lines=units&open=units&${WHERE}`
	)) as ModelFigures;
	return new Map(
		rows
			.filter((r) => r.heads === null)
			.map((r) => [r.targets[0]!.row!, r.cells.slice(0, 6).map((c) => (c as number | null) ?? 0)])
	);
}
const sum = (list: Iterable<number>) => [...list].reduce((a, b) => a + b, 0);

describe('a total that is typed', () => {
	it('over products and months is spread in proportion, exactly, with a cell held', async () => {
		const before = await units();
		await maren.go(`${app.url}/drivers/boat_sales?${WINDOW}&${WHERE}`);
		await (await maren.cell('units', 'total')).click();
		await maren.keys('1,001', Key.ENTER);
		await maren.says('h3', /^Units, Oct 26 – Mar 27$/);
		await maren.says('.sum b', /→ 1,001$/);
		const [first] = before;
		await (await maren.find('.cells tbody td button')).click();
		await maren.says('.sum', /Press a cell to hold it/);
		await maren.click('button', /^Spread$/);
		await maren.cellShows('units', 'total', '1,001');
		await maren.click('button', 'Save');
		await maren.told(/cells saved/);
		const after = await units();
		expect(sum([...after.values()].flat())).toBe(1001);
		expect([...after.values()].flat().every(Number.isInteger)).toBe(true);
		expect(after.get(first[0])![0]).toBe(first[1][0]);
		// Each other cell has its share of what the held one leaves, but for less than a piece.
		const free = sum([...before.values()].flat()) - first[1][0];
		for (const [key, cells] of before)
			cells.forEach((was, i) => {
				if (key === first[0] && i === 0) return;
				const share = ((1001 - first[1][0]) * was) / free;
				expect(Math.abs(after.get(key)![i] - share)).toBeLessThan(1);
			});
	});
	it('of one month can be changed by a percentage, and left as it was', async () => {
		const before = await units();
		await maren.go(`${app.url}/drivers/boat_sales?${WINDOW}&${WHERE}`);
		await (await maren.cell('units', '2026-12')).click();
		await maren.keys('1', Key.ENTER);
		await (await maren.named('label', /^by a percentage$/)).click();
		const field = await maren.find('#amount');
		await field.clear();
		await field.sendKeys('-50');
		await maren.says('.sum b', new RegExp(`→ ${Math.round(sum([...before.values()].map((c) => c[2])) / 2)}`));
		await maren.keys(Key.ESCAPE);
		await maren.gone('dialog[open] .cells');
		expect(await units()).toEqual(before);
	});
	it('takes the shape of another scenario, or is refused with a word', async () => {
		await maren.go(`${app.url}/drivers/boat_sales?${WINDOW}&${WHERE}`);
		await (await maren.cell('units', '2026-11')).click();
		await maren.keys('90', Key.ENTER);
		await (await maren.find('#how option[value="fy27-budget"]')).click();
		await maren.says('.sum b', /→ 90$/);
		await maren.click('button', /^Spread$/);
		await maren.cellShows('units', '2026-11', '90');
		await maren.click('button', 'Save');
		await maren.told(/saved/);
		expect(sum([...(await units()).values()].map((c) => c[1]))).toBe(90);
		expect(await maren.complaints()).toEqual([]);
	});
	it('of a year is kept as a profile, and spreads another total by it', async () => {
		const read = async (account: string): Promise<{ cells: number[]; total: number }> =>
			(await client.get('plan?scenario=fy28-budget&department=direct-web&from=2027-04&to=2028-03')).rows.find(
				(r: { account: string }) => r.account === account
			);
		const shape = await read('5050');
		await maren.go(
			`${app.url}/plan?scenario=fy28-budget&department=direct-web&from=2027-04&to=2028-03&account=5050`
		);
		await (await maren.cell('5050', 'total')).click();
		await maren.keys('1', Key.ENTER);
		await maren.click('dialog button', /^Keep the shape/);
		await (await maren.find('.keep input')).sendKeys('Web season', Key.ENTER);
		await maren.says('.keep', /“Web season” is kept/);
		await maren.keys(Key.ESCAPE);
		await maren.gone('dialog[open] .cells');
		await (await maren.cell('5320', 'total')).click();
		await maren.keys('60,000', Key.ENTER);
		await (await maren.find('#how option[value="@profile/web-season"]')).click();
		await maren.says('.sum b', /→ 60,000\.00$/);
		await maren.click('button', /^Spread$/);
		await maren.click('button', 'Save');
		await maren.told(/12 cells saved/);
		const { cells, total } = await read('5320');
		expect(Math.round(total * 100)).toBe(6_000_000);
		cells.forEach((v, i) => expect(v).toBeCloseTo((60_000 * shape.cells[i]) / shape.total, 0));
		// It is listed, changed in its grid, and used as it then is.
		await maren.go(`${app.url}/drivers/profiles?scenario=fy28-budget`);
		await (await maren.cell('web-season', '0')).click();
		await maren.keys('50', Key.ENTER);
		await maren.click('button', 'Save');
		await maren.told(/profiles are saved/);
		const { profiles } = await client.get('profiles');
		expect(profiles).toHaveLength(1);
		expect(profiles[0].weights[0]).toBe(0.5);
		expect(profiles[0].weights[1]).toBeCloseTo(shape.cells[1] / shape.total, 5);
	});
	it('of an account’s year takes last year’s shape, over what its basis gives', async () => {
		const window = 'scenario=fy28-budget&department=dealer-sales&from=2027-04&to=2028-03';
		const read = async () =>
			(await client.get(`plan?${window}`)).rows.find((r: { account: string }) => r.account === '6240');
		const { lastYear } = await read();
		await maren.go(`${app.url}/plan?${window}&account=6240`);
		await (await maren.cell('6240', 'total')).click();
		await maren.keys('36,000', Key.ENTER);
		await (await maren.find('#how option[value="@last-year"]')).click();
		await maren.says('.sum b', /→ 36,000\.00$/);
		await maren.click('button', /^Spread$/);
		await maren.cellShows('6240', 'total', '36,000');
		await maren.click('button', 'Save');
		await maren.told(/12 cells saved/);
		const { cells, total } = await read();
		expect(Math.round(total * 100)).toBe(3_600_000);
		const before = (
			await client.get('plan?scenario=fy28-budget&department=dealer-sales&from=2026-04&to=2027-03')
		).rows.find((r: { account: string }) => r.account === '6240').cells as number[];
		cells.forEach((c: number, i: number) =>
			expect(Math.abs(c - (36_000 * before[i]) / lastYear)).toBeLessThan(0.01)
		);
	});
});
