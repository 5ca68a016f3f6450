/** A plan of several departments: turned, opened, typed into, spread over departments, all in one save. */
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PlanRow } from '../../src/lib/core/views/plan-rows';
import { Client, startApp, type App } from '../support/app';
import { By, Person } from '../support/browser';

let app: App;
let p: Person;
let client: Client;
const WINDOW = 'scenario=fy28-budget&from=2027-04&to=2028-03';
const ADDRESS = `/plan?${WINDOW}&department=kelpwick`;
const APR27 = 2027 * 12 + 3;
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

const rowIn = async (department: string, account: string): Promise<PlanRow> => {
	const { rows } = await client.get(`plan?${WINDOW}&department=${department}`);
	return rows.find((r: PlanRow) => r.account === account);
};
const whole = (v: unknown) =>
	Math.round(v as number)
		.toLocaleString('en-GB')
		.replace('-', '−');
const unfold = () => p.driver.actions().keyDown(Key.ALT).sendKeys(Key.ARROW_RIGHT).keyUp(Key.ALT).perform();

describe('a plan of several departments', () => {
	it('opens an account into its departments, down to those that are typed; totals follow at once', async () => {
		await p.go(`${app.url}${ADDRESS}&account=6200`);
		const before = { group: await rowIn('kelpwick', '6200'), leaf: await rowIn('direct-web', '6200') };
		const selling = await rowIn('kelpwick', 'selling');
		await (await p.cell('6200', '2027-05')).click();
		await unfold();
		await (await p.cell('6200@sales', '2027-05')).click();
		await unfold();
		await p.cellShows('6200@direct-web', '2027-05', whole(before.leaf.cells[1]));
		await (await p.cell('6200@direct-web', '2027-05')).click();
		await p.keys(String(Math.round(before.leaf.cells[1] as number) + 1000), Key.ENTER);
		const more = Math.round(before.leaf.cells[1] as number) + 1000 - (before.leaf.cells[1] as number);
		await p.cellShows('6200', '2027-05', whole((before.group.cells[1] as number) + more));
		await p.cellShows(
			'6200@sales',
			'2027-05',
			whole(((await rowIn('sales', '6200')).cells[1] as number) + more)
		);
		// Nothing is saved by it.
		expect(await rowIn('kelpwick', '6200')).toEqual(before.group);
		await p.click('button', 'Save');
		await p.told(/^1 cell saved/);
		expect((await rowIn('kelpwick', 'selling')).cells[1]).toBeCloseTo((selling.cells[1] as number) + more, 6);
		await p.cellShows('6200@sales', '2027-05', whole((await rowIn('sales', '6200')).cells[1]));
	});
	it('spreads a year’s total over months and departments, to the cent', async () => {
		const leaves = async () => Promise.all(['dealer-sales', 'direct-web'].map((d) => rowIn(d, '6210')));
		const before = await leaves();
		await p.go(`${app.url}${ADDRESS.replace('kelpwick', 'sales')}&account=6210`);
		await (await p.cell('6210', 'total')).click();
		await p.keys('123,456.78', Key.ENTER);
		await p.says('.sum b', /→ 123,456\.78$/);
		await p.click('button', /^Spread$/);
		await p.cellShows('6210', 'total', '123,457');
		await p.click('button', 'Save');
		await p.told(/cells saved/);
		const after = await leaves();
		const cents = (rows: PlanRow[]) =>
			rows.flatMap((r) => r.typed!).reduce<number>((sum, v) => sum + Math.round((v ?? 0) * 100), 0);
		expect(cents(after)).toBe(12_345_678);
		// In proportion: a department's part of the whole stays what it was.
		const part = (rows: PlanRow[]) =>
			(rows[0].total as number) / rows.reduce((s, r) => s + ((r.total as number | null) ?? 0), 0);
		expect(part(after)).toBeCloseTo(part(before), 5);
		// One save, one undo.
		await p.click('button[aria-label^="Undo"]', /.*/);
		await p.click('button', 'Save');
		await p.told(/cells saved/);
		expect((await leaves()).map((r) => r.cells)).toEqual(before.map((r) => r.cells));
	});
	it('stands with departments across, each of which can be typed as a total', async () => {
		await p.go(`${app.url}${ADDRESS}&account=6240`);
		await (await p.find('main select option[value="across"]')).click();
		await p.cellShows('6240', 'department/sales', whole((await rowIn('sales', '6240')).total));
		await (await p.cell('6240', 'department/sales')).click();
		await p.keys('36000', Key.ENTER);
		await p.says('h3', /^Dealer support, Sales, Apr 27 – Mar 28$/);
		await p.click('button', /^Spread$/);
		await p.cellShows('6240', 'department/sales', '36,000');
		await p.cellShows('6240', 'total', '36,000');
		await p.click('button', 'Save');
		await p.told(/cells saved/);
		expect((await rowIn('sales', '6240')).total).toBeCloseTo(36_000, 6);
	});
	it('stands by departments, each of which opens into its statement', async () => {
		await (await p.find('main select option[value="departments"]')).click();
		await (await p.cell('department:profit@sales', '2027-04')).click();
		await unfold();
		await (await p.cell('department:profit@dealer-sales', '2027-04')).click();
		await unfold();
		const boats = await rowIn('dealer-sales', 'boats');
		await p.cellShows('boats@dealer-sales', '2027-04', whole(boats.cells[0]));
		// Typed over what a model gives; the department's result and the company's follow.
		const [own, all] = [await rowIn('dealer-sales', 'profit'), await rowIn('kelpwick', 'profit')];
		const kayaks = (await rowIn('dealer-sales', '4010')).cells[0] as number;
		await (await p.cell('4010@dealer-sales', '2027-04')).click();
		await p.keys(String(Math.round(kayaks) + 5000), Key.ENTER);
		const more = Math.round(kayaks) + 5000 - kayaks;
		await p.cellShows('department:profit@dealer-sales', '2027-04', whole((own.cells[0] as number) + more));
		await p.cellShows(
			'department:profit@sales',
			'2027-04',
			whole(((await rowIn('sales', 'profit')).cells[0] as number) + more)
		);
		// Deleting it shows what the model gives, before it is saved.
		await (await p.cell('4010@dealer-sales', '2027-04')).click();
		await p.keys(Key.DELETE);
		await p.cellShows('4010@dealer-sales', '2027-04', whole(kayaks));
		expect((await rowIn('kelpwick', 'profit')).cells).toEqual(all.cells);
	});
	it('finds an account in every department, and says when there is none', async () => {
		const box = await p.find('.seek input');
		await box.sendKeys('travel');
		await p.cell('6250@dealer-sales', '2027-04');
		await p.cell('6250@baltic-sales', '2027-04');
		expect((await p.driver.findElements(By.css('[data-row="4010@dealer-sales"]'))).length).toBe(0);
		await box.sendKeys('agon');
		await p.says('.none', /^No row has “travelagon”/);
		await box.clear();
		await box.sendKeys(' ', Key.BACK_SPACE);
	});
	it('says what an account of one department comes from, and changes its basis there', async () => {
		await p.go(`${app.url}/plan?${WINDOW}&department=kelpwick&account=6240`);
		await (await p.cell('6240', '2027-04')).click();
		await unfold();
		await (await p.cell('6240@sales', '2027-04')).click();
		await unfold();
		const before = (await rowIn('direct-web', '6240')).origin;
		await (await p.cell('6240@dealer-sales', 'basis')).click();
		await p.says('dialog[open] h3', /Dealer Sales/);
		await p.click('dialog[open] label', /^The average of the last closed months$/);
		await p.click('dialog[open] button', 'Save basis');
		await p.told(/basis is saved/);
		expect((await rowIn('dealer-sales', '6240')).origin).toMatchObject({ basis: { kind: 'run-rate' } });
		expect((await rowIn('direct-web', '6240')).origin).toEqual(before);
	});
	it('can be typed only where the department may be planned', async () => {
		const { rights } = await client.get(`plan/parts?${WINDOW}&department=kelpwick&accounts=6300`);
		const closed = Object.entries(rights as Record<string, { editable: boolean; reason: string }>).find(
			([, r]) => !r.editable && /approved|review|submitted/.test(r.reason)
		)!;
		await p.go(`${app.url}/plan?${WINDOW}&department=kelpwick&account=6300`);
		await (await p.cell('6300', '2027-04')).click();
		await unfold();
		const row = `6300@${closed[0]}`;
		await (await p.cell(row, '2027-04')).click();
		await p.keys('1');
		await p.told(new RegExp(closed[1].reason.slice(0, 30)));
		expect(await p.complaints()).toEqual([]);
	});
	it('shows another scenario beside departments too', async () => {
		await p.go(
			`${app.url}/plan?scenario=fy27-forecast-6-6&department=kelpwick&from=2026-10&to=2027-03&account=6200&beside=fy27-budget`
		);
		await (await p.cell('6200', '2026-10')).click();
		await unfold();
		const other = await client.get(
			`plan/parts?scenario=fy27-budget&department=kelpwick&accounts=6200&from=2026-10&to=2027-03`
		);
		const sales = other.rows.find((r: PlanRow) => r.department === 'sales');
		await p.cellShows('6200@sales', '@beside/2026-10', whole(sales.cells[0]));
	});
});

describe('who answers for one department', () => {
	it('sees totals follow as they type, and reads nothing of others', async () => {
		await p.signIn(app.url, 'tom.aldous@kelpwick.example');
		await p.go(`${app.url}/plan?${WINDOW}&department=dealer-sales&account=6240`);
		const [row, running] = [await rowIn('dealer-sales', '6240'), await rowIn('dealer-sales', 'running')];
		await (await p.cell('6240', '2027-06')).click();
		await p.keys('9000', Key.ENTER);
		const more = 9000 - (row.cells[APR27 + 2 - APR27] as number);
		await p.cellShows('running', '2027-06', whole((running.cells[2] as number) + more));
		const tom = await Client.signIn(app, 'tom.aldous@kelpwick.example');
		expect((await tom.get(`plan/parts?${WINDOW}&department=kelpwick`)).status).toBe(403);
	});
});
