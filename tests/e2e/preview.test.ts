/** What is typed on a driver model shows its effect at once, worked out in the browser, before it is saved. */
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { Person } from '../support/browser';

let app: App;
let maren: Person;
const MODEL =
	'drivers/boat_sales?scenario=fy27-forecast-6-6&from=2026-10&to=2027-03&open=units&where=product:tern-9';

beforeAll(async () => {
	app = await startApp('demo/company');
	maren = await Person.open();
	await maren.signIn(app.url, 'maren.holt@kelpwick.example');
});
afterAll(async () => {
	await maren.close();
	await app.stop();
});

const gridTexts = () =>
	maren.driver.executeScript(
		`return [...document.querySelectorAll('[role=row] [role=gridcell]')].map((c) => c.querySelector('.value')?.textContent ?? '')`
	) as Promise<string[]>;
const previewed = async () =>
	(await maren.driver.executeScript(`return document.querySelectorAll('.cell.preview').length`)) as number;

describe('typed and not saved', () => {
	it('changes everything that depends on it, marked as not saved, and saving changes no figure more', async () => {
		await maren.go(`${app.url}/${MODEL}`);
		const revenue = await maren.cellText('revenue', '2026-12');
		const [row] = (await maren.driver.executeScript(
			`return [...document.querySelectorAll('[data-row^="units@"]')].map((r) => r.dataset.row)`
		)) as string[];
		await (await maren.cell(row, '2026-12')).click();
		await maren.keys('400', Key.ENTER);
		await maren.driver.wait(async () => (await maren.cellText('revenue', '2026-12')) !== revenue, 15_000);
		expect(await previewed()).toBeGreaterThan(3);
		await maren.says('.hint', /Slanted figures follow from what is not saved yet/);
		const before = await gridTexts();
		await maren.click('button', 'Save');
		await maren.says('[role=status], .notice', /1 cell saved/);
		await maren.driver.wait(async () => (await previewed()) === 0, 15_000);
		expect(await gridTexts()).toEqual(before);
	});
	it('is worked out anew from what has been saved, and gone when it is discarded', async () => {
		const before = await gridTexts();
		const [row] = (await maren.driver.executeScript(
			`return [...document.querySelectorAll('[data-row^="units@"]')].map((r) => r.dataset.row)`
		)) as string[];
		await (await maren.cell(row, '2027-01')).click();
		await maren.keys('7', Key.ENTER);
		await maren.driver.wait(async () => (await previewed()) > 3, 15_000);
		await maren.click('button', 'Discard');
		await maren.driver.wait(async () => (await previewed()) === 0, 15_000);
		expect(await gridTexts()).toEqual(before);
		expect(await maren.complaints()).toEqual([]);
	});
	it('is answered by the server until the browser has the model, and by the browser where the server is out of reach', async () => {
		/** What revenue comes to with another figure typed. */
		const tried = async () => {
			await maren.go(`${app.url}/${MODEL}`);
			const [row] = (await maren.driver.executeScript(
				`return [...document.querySelectorAll('[data-row^="units@"]')].map((r) => r.dataset.row)`
			)) as string[];
			const saved = await maren.cellText('revenue', '2027-02');
			await (await maren.cell(row, '2027-02')).click();
			await maren.keys('123', Key.ENTER);
			await maren.driver.wait(async () => (await previewed()) > 3, 15_000);
			const now = await maren.cellText('revenue', '2027-02');
			expect(now).not.toBe(saved);
			await maren.click('button', 'Discard');
			await maren.driver.wait(async () => (await previewed()) === 0, 15_000);
			return now;
		};
		const texts: string[] = [];
		for (const address of ['*/package?*', '*/models/*/preview'])
			await maren.withoutReaching([address], async () => void texts.push(await tried()));
		expect(texts[0]).toBe(texts[1]);
	});
	it('is answered in a schedule in both ways too, the total below with it', async () => {
		const texts: string[] = [];
		for (const address of ['*/package?*', '*/schedules/*/preview'])
			await maren.withoutReaching([address], async () => {
				await maren.go(
					`${app.url}/plan/schedules/staff?scenario=fy28-budget&department=kelpwick&from=2027-04&to=2028-03&columns=name,annual`
				);
				const saved = await maren.cellText('K001', '2027-06');
				await (await maren.cell('K001', 'annual')).click();
				await maren.keys('90000', Key.ENTER);
				await maren.driver.wait(async () => (await maren.cellText('K001', '2027-06')) !== saved, 15_000);
				texts.push(
					[await maren.cellText('K001', '2027-06'), await (await maren.find('.together')).getText()].join(' ')
				);
				await maren.click('button', 'Discard');
				await maren.cellShows('K001', '2027-06', saved);
			});
		expect(texts[0]).toBe(texts[1]);
	});
});
