/** Two people at one scenario: each sees what the other saves, and that the other is there. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';

const PLAN = 'plan?scenario=fy28-budget&department=dealer-sales&from=2027-04&to=2028-03';
let app: App;
let p: Person;
let tom: Client;

beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	tom = await Client.signIn(app, 'tom.aldous@kelpwick.example');
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	await p.go(`${app.url}/${PLAN}`);
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});

const save = (account: string, before: number | null, value: number) =>
	tom.post('scenarios/fy28-budget/cells', {
		edits: [{ block: 'accounts', line: account, row: 'dealer-sales', period: '2027-04', before, value }]
	});
const stored = async (account: string): Promise<number | null> => {
	const { rows } = await tom.get<{ rows: { account: string; typed: (number | null)[] }[] }>(PLAN);
	return rows.find((r) => r.account === account)!.typed[0];
};

describe('what somebody else saves', () => {
	it('is shown without a reload, and what is typed here stays', async () => {
		await (await p.cell('6240', '2027-05')).click();
		await p.keys('777', Key.ENTER);
		expect((await save('6240', await stored('6240'), 4321)).status).toBe(200);
		await p.told(/^Tom Aldous has saved changes/);
		await p.cellShows('6240', '2027-04', '4,321');
		await p.cellShows('6240', '2027-05', '777');
		await p.says('[role=status]', /1 cell not saved/);
	});
	it('is a conflict where both have typed, shown cell by cell, and neither is lost', async () => {
		await (await p.cell('6240', '2027-04')).click();
		await p.keys('5000', Key.ENTER);
		expect((await save('6240', 4321, 4400)).status).toBe(200);
		await p.told(/Tom Aldous has saved changes/);
		await p.cellShows('6240', '2027-04', '5,000');
		await p.chord(Key.CONTROL, 's');
		await p.says('dialog', /4,400/);
		await p.says('dialog', /5,000/);
		await p.click('dialog button', /[Mm]ine/);
		await p.told(/2 cells saved/);
		expect(await stored('6240')).toBe(5000);
	});
	it('does not come back as news to the one who saved it', async () => {
		await (await p.cell('6240', '2027-04')).click();
		await p.keys('5100', Key.ENTER);
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 cell saved/);
		await p.driver.sleep(500);
		const more = await p.driver.findElements(By.css('.notice'));
		expect(await Promise.all(more.map((n) => n.getText()))).toEqual([]);
	});
});

describe('people at the same scenario', () => {
	it('see each other, until one goes', async () => {
		const other = await Person.open();
		try {
			await other.signIn(app.url, 'tom.aldous@kelpwick.example');
			await other.go(`${app.url}/${PLAN}`);
			await other.find('.present li');
			expect(await (await other.find('.present li')).getAttribute('title')).toBe(
				'Maren Holt is here too, in Plan'
			);
			await p.find('.present li');
			expect(await (await p.find('.present li')).getAttribute('title')).toBe(
				'Tom Aldous is here too, in Plan'
			);
			await other.go(`${app.url}/plan?scenario=fy27-forecast-6-6&department=dealer-sales`);
			await p.gone('.present li');
		} finally {
			await other.close();
		}
	});
	it('are told nothing of scenarios that are hidden from them', async () => {
		const maren = await Client.signIn(app, 'maren.holt@kelpwick.example');
		await maren.fetch('/api/v1/scenarios/dearer-kayaks', {
			method: 'PATCH',
			headers: { 'content-type': 'application/json' },
			body: JSON.stringify({ visibility: 'people', people: [] })
		});
		const answer = await tom.get('events?scenario=dearer-kayaks&tab=x&at=/plan');
		expect(answer.status).toBe(404);
	});
});
