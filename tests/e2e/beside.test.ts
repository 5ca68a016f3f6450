/** Another scenario beside the grid's own: its figures, or the difference, tied to what each of them holds. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';

let app: App;
let p: Person;
beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});
const whole = (v: number) => {
	const text = Math.abs(v).toLocaleString('en-GB', { maximumFractionDigits: 0 });
	return text === '0' ? '–' : v < 0 ? `−${text}` : text;
};

describe('a second scenario', () => {
	it('stands beside a department’s plan as figures, then as the difference', async () => {
		const window = 'department=dealer-sales&from=2027-02&to=2027-03';
		await p.go(`${app.url}/plan?scenario=fy27-forecast-6-6&${window}`);
		const choice = await p.find('main label select');
		await choice.sendKeys('FY27 Budget');
		type Plan = { rows: { account: string; cells: (number | null)[]; total: number | null }[] };
		const of = async (scenario: string) =>
			(await p.read<Plan>(`plan?scenario=${scenario}&${window}`)).rows.find((r) => r.account === '4010')!;
		const [own, other] = [await of('fy27-forecast-6-6'), await of('fy27-budget')];
		await p.cellShows('4010', '@beside/2027-02', whole(other.cells[0]!));
		await p.cellShows('4010', '@beside/total', whole(other.total!));
		expect(await p.cellText('4010', '2027-02')).toBe(whole(own.cells[0]!));
		await (await p.find('select[aria-label="How the other scenario is shown"]')).sendKeys('the difference');
		await p.cellShows('4010', '@beside/2027-02', whole(own.cells[0]! - other.cells[0]!));
		await p.cellShows('4010', '@beside/total', whole(own.total! - other.total!));
		await p.says('[role=columnheader]', /Difference to FY27 Budget/);
		// Where the other scenario does not reach there is no difference, and none is made up.
		await p.go(
			`${app.url}/plan?scenario=fy28-budget&department=dealer-sales&from=2027-09&to=2027-10&beside=fy27-forecast-6-6&as=difference`
		);
		await p.says('[role=columnheader]', /Difference to FY27 Forecast/);
		await p.driver.wait(
			async () => /\d/.test(await p.cellText('4010', '@beside/2027-09')),
			15_000,
			'there is no difference in September'
		);
		expect(await p.cellText('4010', '@beside/2027-10')).not.toMatch(/\d/);
		expect(await p.cellText('4010', '@beside/total')).not.toMatch(/\d/);
		await (await p.cell('4010', '@beside/2027-09')).click();
		await p.keys('5');
		await p.told(/is shown to compare with/);
	});
	it('stands beside a driver model, and the difference follows what is typed before it is saved', async () => {
		await p.go(
			`${app.url}/drivers/boat_sales?scenario=fy28-budget&open=units&where=product:eider-10,channel:dealer&beside=fy27-forecast-6-6&as=difference&from=2027-04&to=2027-09`
		);
		const row = 'units@eider-10|dealer|lakes';
		const path = (scenario: string) =>
			`models/boat_sales?scenario=${scenario}&from=2027-04&to=2027-09&open=units&where=product:eider-10,channel:dealer`;
		type View = { rows: { key: string; cells: (number | null)[] }[] };
		const of = async (scenario: string) =>
			(await p.read<View>(path(scenario))).rows.find((r) => r.key === row)!.cells[0] ?? 0;
		const [own, other] = [await of('fy28-budget'), await of('fy27-forecast-6-6')];
		await p.cellShows(row, '@beside/2027-04', whole(own - other));
		await (await p.cell(row, '2027-04')).click();
		await p.keys(String(own + 25), Key.ENTER);
		await p.cellShows(row, '@beside/2027-04', whole(own + 25 - other));
	});
});
