/** From an empty installation to the first figure: with the key alone, once, by keyboard and by mouse. */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';
import { workbookIn } from '../support/workbook';

let app: App;
const file = (name: string, content: string) => {
	const path = join(mkdtempSync(join(tmpdir(), 'yardstave-')), name);
	writeFileSync(path, content);
	return path;
};
beforeEach(async () => {
	app = await startApp(null, { YARDSTAVE_DEMO: '0' });
});
afterEach(() => app.stop());

/** The address that the server printed. */
const address = () => /http\S+\/begin\?key=\S+/.exec(app.said())![0];
const key = () => new URL(address()).searchParams.get('key')!;
const answers = {
	person: { name: 'Ada Lind', email: 'ada@lind.example', password: 'long enough 1' },
	company: {
		name: 'Lind & Partner',
		currency: 'CHF',
		calendar: { kind: 'months', fiscalStart: 1, dayCount: 'actual' }
	},
	chart: 'services',
	departments: 'Advisory\n  Tax\nOperations',
	year: 2027
};
const found = async (given: object) => {
	const nobody = await Client.signIn(app, null);
	return nobody.post('founding', given);
};

describe('an installation without a company', () => {
	it('is open to nobody without the key that was printed last', async () => {
		const nobody = await Client.signIn(app, null);
		expect((await nobody.fetch('/begin')).status).toBe(403);
		expect((await nobody.fetch('/begin?key=guessed')).status).toBe(403);
		expect((await nobody.fetch('/plan')).headers.get('location')).toMatch(/^\/signin/);
		expect((await found(answers)).error?.message).toMatch(/not the key/);
		expect((await found({ ...answers, key: 'guessed' })).status).toBe(403);
		expect((await nobody.post('founding/history', { key: 'guessed' })).status).toBe(403);
		const first = key();
		app = await app.restart();
		expect(key()).not.toBe(first);
		expect((await found({ ...answers, key: first })).status).toBe(403);
		expect((await found({ ...answers, key: key() })).status).toBe(200);
	});
	it('is set up once, however many ask at once, and the key opens nothing afterwards', async () => {
		const all = await Promise.all(
			['One', 'Two', 'Three'].map((name) =>
				found({ ...answers, key: key(), company: { ...answers.company, name } })
			)
		);
		expect(all.map((a) => a.status).sort()).toEqual([200, 409, 409]);
		const nobody = await Client.signIn(app, null);
		expect((await nobody.fetch(`/begin?key=${key()}`)).headers.get('location')).toMatch(/^\/signin/);
		expect((await found({ ...answers, key: key() })).status).toBe(401);
		expect((await nobody.post('founding/history', { key: key() })).status).toBe(401);
		// A server that starts on it prints no key.
		app = await app.restart();
		expect(app.said()).not.toMatch(/key=/);
	});
	it('says where an answer cannot be taken, and is as empty as before', async () => {
		const answer = await found({
			...answers,
			key: key(),
			company: { ...answers.company, currency: 'ABC' },
			departments: 'Sales\nSales'
		});
		expect(answer.status).toBe(400);
		expect(answer.error!.faults).toEqual([
			{ column: 'company.currency', message: expect.stringMatching(/^this is no currency/) }
		]);
		expect((await found({ ...answers, key: key(), departments: 'Sales\nSales' })).error!.faults).toEqual([
			{ row: 2, column: 'departments', message: '“Sales” stands twice in the same place' }
		]);
		expect((await found({ ...answers, key: key() })).status).toBe(200);
	});
});

describe('a company of one’s own', () => {
	let p: Person;
	beforeEach(async () => {
		p = await Person.open();
	});
	afterEach(() => p.close());
	const cell = (account: string, period: string) =>
		`.cells [data-row="${account}"] [data-column="${period}"] .value`;

	it('is set up by keyboard alone with last year’s trial balance, up to the first figure', async () => {
		await p.go(address());
		const fill = async (label: RegExp, text: string) => {
			await p.tabTo(label, 12);
			await p.keys(text);
		};
		await fill(/^Your name/, 'Ada Lind');
		await fill(/^E-mail/, 'ada@lind.example');
		await fill(/^Password/, 'long enough 1');
		await fill(/^Its name/, 'Lind & Partner');
		await fill(/^Currency/, 'chf');
		// What is typed in a list chooses from it.
		await fill(/Twelve months/, 'Weeks, grouped 4-4-5');
		await fill(/January/, 'Sep');
		await p.says('[role=status]', /^FY28 is 29 August 2027 to 2 September 2028, in 12 periods\.$/);
		await p.tabTo(/Trade and production/);
		await p.keys(Key.ARROW_DOWN);
		await p.says('.beside li', /^Fees, time and materials/);
		await p.tabTo(/^One a line/);
		await p.keys(['Advisory', '  Strategy', '  Tax', 'Operations'].join('\n'));
		await p.says('.beside li', /^Operations$/);
		await p.tabTo(/^A department belongs to another legal entity/);
		await p.keys(Key.ENTER);
		await p.keys('Lind Inc', Key.TAB, 'Operations', Key.TAB);
		await p.chord(Key.CONTROL, 'a');
		await p.keys('USD', Key.TAB, '0.88');
		await p.tabTo(/^Or paste its rows/);
		await p.keys(
			[
				'Account;Name;Debit;Credit',
				'1020;Current account;52000.00;',
				'2800;Share capital;;20000.00',
				'3400;Consulting fees;;120000.00',
				'5000;Wages;84000.00;',
				'6700;Office plants;4100.00;'
			].join('\n')
		);
		await p.says('.said p', /^5 accounts, .* FY26\. Debits are larger by 100\.00; it is taken as it is\./);
		// Sixty accounts are not to be gone through one by one; what is out of sight moves nothing when it has the focus.
		await p.tabTo(/^Past this list/, 12);
		await p.keys(Key.ENTER);
		const focused = `return [document.activeElement.id, document.documentElement.scrollTop]`;
		expect(await p.driver.executeScript(focused)).toEqual(['year', 0]);
		await p.chord(Key.SHIFT, Key.TAB);
		expect(await p.driver.executeScript(`return document.activeElement.ariaLabel`)).toMatch(
			/^Heading of 6700 Office plants/
		);
		await p.keys('Premises');
		await p.tabTo(/^Set up and plan/);
		await p.keys(Key.ENTER);
		await p.says('h1', /^Department plan: Not divided$/);
		await p.settled();
		await p.says(cell('5000', '2027-P01'), /^7,000$/);
		// It stands with the other cost of premises, which the chart has above what the office costs else.
		await p.says('[data-row="premises"]', /Premises/);
		await p.says(cell('6700', '2027-P12'), /^342$/);
		await p.tabTo(/treegrid/);
		await p.keys('1250', Key.ENTER);
		await p.says(cell('3400', '2027-P01'), /^1,250$/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/saved/);
		await p.go(await p.driver.getCurrentUrl());
		await p.says(cell('3400', '2027-P01'), /^1,250$/);
		await p.says(cell('3400', '2027-P02'), /^10,000$/);
		// The other legal entity plans in dollars, and is added up in francs.
		await p.go(`${app.url}/plan?department=operations`);
		await p.says('main p.muted', /^USD/);
		await p.tabTo(/treegrid/);
		await p.keys('100', Key.ENTER);
		await p.chord(Key.CONTROL, 's');
		await p.told(/saved/);
		await p.go(`${app.url}/plan?department=lind-partner`);
		await p.says('main p.muted', /^CHF/);
		await p.says(cell('3400', '2027-P01'), /^1,338$/);
	});

	it('is set up by mouse; what is wrong is said in the form, and nothing that was typed is lost', async () => {
		await p.go(address());
		const type = async (css: string, text: string) => (await p.find(css)).sendKeys(text);
		await type('#name', 'Ada Lind');
		await type('#email', 'ada@lind.example');
		await type('#password', 'long enough 1');
		await type('#company', 'Lind & Partner');
		await type('#currency', 'ABC');
		await p.click('button', 'Set up and plan');
		await p.says('[role=alert]', /currency: this is no currency/);
		const currency = await p.find('#currency');
		await currency.clear();
		await currency.sendKeys('USD');
		await type('#departments', 'Sales\nSales');
		await p.says('.fault', /^Line 2: “Sales” stands twice in the same place\.$/);
		await p.click('button', 'Set up and plan');
		await p.says('[role=alert]', /row 2, column departments/);
		await type('#departments', '\nService');
		await type('#departments', Key.chord(Key.CONTROL, 'a'));
		await type('#departments', 'Sales\nService');
		// A file that cannot be taken is said at its rows; another one can.
		await type('#history-file', file('faulty.csv', 'Account,Name,Balance,Department\n1020,Bank,much,Sales'));
		await p.says('[role=alert]', /row 2, column Balance: “much” is no number/);
		await p.click('button', 'Set up and plan');
		await p.says('[role=alert]', /mend last year’s figures first/);
		await type(
			'#history-file',
			await workbookIn(p.downloads, 'tb.xlsx', [
				['Account', 'Name', 'Balance', 'Department'],
				[4000, 'Repairs', -1200.5, 'Service']
			])
		);
		await p.says('.said p', /^1 account, January 2025 to December 2025\. Credits are larger by 1,200\.50/);
		await p.says('.said p', /Read from the sheet “List”\./);
		await p.click('label', 'empty');
		await p.click('button', 'Set up and plan');
		await p.says('h1', /^Department plan: Service$/);
		await p.says('.cells .row', /./);
		// Who has set it up signs in elsewhere too, changes the password, and is signed out there.
		const elsewhere = await Client.withPassword(app, 'ada@lind.example', 'long enough 1');
		expect((await elsewhere.get('me')).status).toBe(200);
		await p.click('summary', 'AL');
		await p.click('button', 'Change password …');
		await type('#present', 'another one');
		await type('#next', 'even longer 2');
		await type('#again', 'even longer 3');
		await p.click('dialog button', 'Change');
		await p.says('[role=alert]', /^The new password is not the same both times\.$/);
		await (await p.find('#again')).clear();
		await type('#again', 'even longer 2');
		await p.click('dialog button', 'Change');
		await p.says('[role=alert]', /^This is not your present password\.$/);
		await (await p.find('#present')).clear();
		await type('#present', 'long enough 1');
		await p.click('dialog button', 'Change');
		await p.told(/Your password is changed; 1 other session of yours has ended/);
		expect((await elsewhere.get('me')).status).toBe(401);
		await expect(Client.withPassword(app, 'ada@lind.example', 'long enough 1')).rejects.toThrow(
			/could not sign in/
		);
		await Client.withPassword(app, 'ada@lind.example', 'even longer 2');
		// Here nobody is signed out.
		await p.go(await p.driver.getCurrentUrl());
		await p.says('h1', /^Department plan: Service$/);
	});

	it('leads who signs in to planning as long as there is nothing to compare, and empty pages say what to do', async () => {
		expect((await found({ ...answers, key: key() })).status).toBe(200);
		await p.go(`${app.url}/signin`);
		await (await p.find('#email')).sendKeys('ada@lind.example');
		await (await p.find('#password')).sendKeys('long enough 1');
		await p.click('button', 'Sign in');
		await p.says('h1', /^Department plan: Tax$/);
		await p.settled();
		await p.go(`${app.url}/compare`);
		await p.says(
			'.empty',
			/^Nothing stands in FY27 Budget or Last year for Lind & Partner in .* or load a month of the ledger\.$/
		);
		await p.click('.empty a', 'a plan');
		await p.says('h1', /^Plan: Lind/);
		await p.go(`${app.url}/setup/map`);
		await p.says('td', /^No ledger account is known yet\./);
	});
});
