/** The account map: both sides in one view, folding by hand and by keys, accounts made on the spot, and the proof below. */
import { resolve } from 'node:path';
import { By } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';

let app: App;
let p: Person;
beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	await p.go(`${app.url}/setup/map`);
	await p.says('h1', /^Account map$/);
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});
const LEDGER = 'input[aria-label="Find a ledger account"]';
const PLANNING = 'input[aria-label="Find a planning account"]';
const put = async (css: string, text: string) => {
	const field = await p.find(css);
	await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text || Key.DELETE);
};
const drag = async (ledger: string, planning: string) => {
	const [from, to] = [
		await p.find(`[data-ledger="${ledger}"]`),
		await p.find(`[data-planning="${planning}"]`)
	];
	await p.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', to);
	await p.driver.actions().dragAndDrop(from, to).perform();
};
interface Map {
	rows: { code: string; account: string | null }[];
	planning: { code: string; name: string; folded: number }[];
}
const accountOf = async (ledger: string) =>
	(await p.read<Map>('map')).rows.find((r) => r.code === ledger)!.account;
/** What stands below the two sides is the same. */
async function proven() {
	const feet = await p.driver.findElements(By.css('.foot b'));
	const [left, right] = await Promise.all(feet.map((f) => f.getText()));
	expect(left).toMatch(/^GBP .* and EUR .* in statistics$/);
	expect(right).toBe(left);
}

it('folds by keys alone, proves that nothing is lost, and takes it back', async () => {
	await put(LEDGER, 'petty');
	await (await p.find('[data-ledger="100080"]')).sendKeys(' ', Key.ENTER);
	await p.says('.waiting', /^100080 chosen$/);
	await p.keys('other receiv', Key.ENTER, Key.ENTER);
	await p.says('.notice', /100080 is now part of Other receivables, in all months/);
	expect(await accountOf('100080')).toBe('1110');
	await proven();
	await p.click('.notice button', 'Undo');
	await p.told(/100080 is where it was/);
	expect(await accountOf('100080')).toBe('1000');
});

it('folds several at once by hand, and shows what an account holds', async () => {
	await put(LEDGER, 'energy');
	await put(PLANNING, 'water');
	const first = await p.find('[data-ledger="612010"]');
	await first.click();
	await p.driver
		.actions()
		.keyDown(Key.SHIFT)
		.click(await p.find('[data-ledger="612020"]'))
		.keyUp(Key.SHIFT)
		.perform();
	await p.says('.waiting', /^2 ledger accounts chosen$/);
	await drag('612020', '6130');
	await p.says('.notice', /2 ledger accounts are now part of Water/);
	await proven();
	await p.click('[data-planning="6130"] button', /^3/);
	await p.says('.within', /^in Water/);
	expect((await p.driver.findElements(By.css('[data-ledger]'))).length).toBe(3);
	await p.click('.within button', 'show all');
	await p.click('.notice button', 'Undo');
	await p.told(/2 ledger accounts are where they were/);
	expect(await accountOf('612010')).toBe('6120');
});

it('makes a planning account under the heading on which ledger accounts are dropped, which undo takes out again', async () => {
	await put(LEDGER, 'gas');
	await put(PLANNING, 'water');
	await (await p.find('[data-ledger="612020"]')).click();
	await drag('612020', 'premises');
	const name = await p.find('#planning-name');
	expect(await name.getAttribute('value')).toBe('Gas');
	await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Gas and heating', Key.ENTER);
	await p.says('.notice', /Gas and heating is made, and takes in 612020/);
	expect(await accountOf('612020')).toBe('612020');
	await proven();
	await p.click('.notice button', 'Undo');
	await p.told(/They are gone again/);
	expect(await accountOf('612020')).toBe('6120');
	expect((await p.read<Map>('map')).planning.some((a) => a.code === '612020')).toBe(false);
});

it('counts what is in none, and makes for each of them an account of its own', async () => {
	await put(LEDGER, 'advertising');
	await (await p.find('[data-ledger="620010"]')).sendKeys(Key.chord(Key.CONTROL, 'a'));
	await p.says('.waiting', /^2 ledger accounts chosen$/);
	await p.click('section button', 'take out');
	await p.told(/2 ledger accounts are no longer mapped/);
	await p.says('h1 + p', /2 are in none, with GBP [\d,.]+ and EUR [\d,.]+\./);
	await proven();
	await p.click('.top button', /^Make an account for each of 2/);
	await (await p.find('select[aria-label="Heading for 620010"]')).sendKeys('Selling');
	await (await p.find('select[aria-label="Heading for 620020"]')).sendKeys('Selling');
	await p.click('dialog button', 'Make 2');
	await p.told(/2 planning accounts are made, one for each/);
	expect(await Promise.all(['620010', '620020'].map(accountOf))).toEqual(['620010', '620020']);
	await proven();
});

it('makes one for a ledger account that is new in a file, before the file is loaded', async () => {
	await p.go(`${app.url}/setup/feed`);
	await (await p.find('#file')).sendKeys(resolve('demo/inbox/ledger-2026-10.csv'));
	const choice = 'select[aria-label="Planning account for 620040"]';
	await (await p.find(choice)).sendKeys('a');
	const name = await p.find('#planning-name');
	expect(await name.getAttribute('value')).toBe('Video advertising');
	await p.click('dialog button', 'Make it');
	await p.told(/^Video advertising is made; 620040 goes into it when the file is loaded\./);
	await p.driver.wait(
		async () => (await (await p.find(choice)).getAttribute('value')) === '620040',
		15_000,
		'the new account is not chosen'
	);
	await p.click('button', /^Load /);
	await p.told(/entries loaded/);
	expect(await accountOf('620040')).toBe('620040');
	const chart = await p.read<{ code: string; parent: string }[]>('accounts');
	expect(chart.find((a) => a.code === '620040')!.parent).toBe('selling');
});
