/** Typing into a driver model while the connection breaks, the server dies or the session ends: nothing is lost. */
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';
import { line, type Line } from '../support/line';

const ANALYST = 'maren.holt@kelpwick.example';
const WINDOW = 'from=2027-04&to=2027-06';
let app: App;
let wire: Line;
let p: Person;
let maren: Client;
beforeAll(async () => {
	wire = await line();
	app = await startApp('demo/company', { ORIGIN: wire.url });
	wire.lead(app.url);
	p = await Person.open();
	await p.signIn(wire.url, ANALYST);
	maren = await Client.signIn({ ...app, url: wire.url }, ANALYST);
});
afterAll(async () => {
	await p?.close();
	await wire?.stop();
	await app?.stop();
});

const ROW = 'units@eider-10|dealer|lakes';
const row = ROW.split('@')[1];
const page = () =>
	`${wire.url}/drivers/boat_sales?scenario=fy28-budget&${WINDOW}&open=units&where=product:eider-10,channel:dealer`;
async function units(month: string): Promise<number | null> {
	const view = await maren.get(`models/boat_sales?scenario=fy28-budget&from=${month}&to=${month}&open=units`);
	return view.rows.find((r: { targets: ({ row: string } | null)[] }) => r.targets[0]?.row === row).cells[0];
}
async function type(month: string, value: number) {
	await (await p.cell(ROW, month)).click();
	await p.keys(String(value), Key.ENTER);
}
const texts = (css: string): Promise<string[]> =>
	p.driver.executeScript(
		`return [...document.querySelectorAll(arguments[0])].map((e) => e.textContent)`,
		css
	);
beforeEach(async () => {
	wire.delay(0);
	wire.lead(app.url);
	await p.go(page());
});

describe('nothing that was typed is lost', () => {
	it('when the connection drops: typing and totals go on, and all is saved when it is back', async () => {
		const total = await p.cellText('units', '2027-04');
		const before = (await units('2027-05'))!;
		const follows = () =>
			p.driver.wait(async () => (await p.cellText('units', '2027-04')) !== total, 15_000, 'no preview');
		await type('2027-04', 900);
		await follows();
		// The first answer was the server's; from now on the page has the model itself.
		const HAS_MODEL = `return performance.getEntriesByType('resource').some((e) => /package/.test(e.name))`;
		await p.driver.wait(() => p.driver.executeScript(HAS_MODEL), 15_000, 'the page takes no model');
		wire.cut();
		await p.chord(Key.CONTROL, 'z');
		await p.cellShows('units', '2027-04', total);
		await type('2027-04', 901);
		await follows();
		await p.click('button', 'Save');
		await p.told(/cannot be reached/);
		await p.says('.count', /1 cell not saved/);
		await type('2027-05', before + 1);
		await p.says('.count', /2 cells not saved/);
		wire.lead(app.url);
		await p.click('button', 'Save');
		await p.told(/2 cells saved/);
		expect([await units('2027-04'), await units('2027-05')]).toEqual([901, before + 1]);
	});

	it('when the server is killed during the save: all of it or nothing, and saving again brings the rest', async () => {
		for (const [round, wait] of [0, 20, 60].entries()) {
			const [one, two] = [910 + round, 920 + round];
			await p.go(page());
			await type('2027-04', one);
			await type('2027-05', two);
			await p.click('button', 'Save');
			await new Promise((r) => setTimeout(r, wait));
			app = await app.restart();
			wire.cut();
			wire.lead(app.url);
			maren = await Client.signIn({ ...app, url: wire.url }, ANALYST);
			const saved = [(await units('2027-04')) === one, (await units('2027-05')) === two];
			expect(saved[1]).toBe(saved[0]);
			// It was saved and said so, or it is still here to be saved.
			await p.driver.wait(
				async () =>
					(await texts('.notice')).some((t) => /cells (are )?saved|cannot be reached|answered/.test(t)),
				15_000,
				'nothing is said'
			);
			if ((await texts('.count')).length) {
				await p.click('button', 'Save');
				await p.told(/cells? saved/);
				await p.gone('.count');
			}
			expect([await units('2027-04'), await units('2027-05')]).toEqual([one, two]);
		}
	});

	it('when it is typed while a slow save is under way', async () => {
		await type('2027-04', 921);
		wire.delay(1500);
		await p.click('button', 'Save');
		await p.says('button', /^Saving …$/);
		await type('2027-04', 922);
		await type('2027-05', 923);
		await p.told(/1 cell saved/);
		wire.delay(0);
		await p.says('.count', /2 cells not saved/);
		expect(await p.cellText(ROW, '2027-04')).toBe('922');
		expect(await units('2027-04')).toBe(921);
		await p.click('button', 'Save');
		await p.told(/2 cells saved/);
		expect([await units('2027-04'), await units('2027-05')]).toEqual([922, 923]);
	});

	it('when the session ends: after signing in again in another tab it is saved', async () => {
		await type('2027-04', 931);
		await p.driver.manage().deleteAllCookies();
		await p.click('button', 'Save');
		await p.told(/session has ended/);
		await p.says('.count', /1 cell not saved/);
		const first = await p.driver.getWindowHandle();
		await p.driver.switchTo().newWindow('tab');
		await p.signIn(wire.url, ANALYST);
		await p.driver.close();
		await p.driver.switchTo().window(first);
		await p.click('button', 'Save');
		await p.told(/1 cell saved/);
		expect(await units('2027-04')).toBe(931);
	});
});
