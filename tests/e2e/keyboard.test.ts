/** The same month by keyboard alone: not one click. */
import { readdirSync } from 'node:fs';
import { resolve } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';

let app: App;
let p: Person;
const at = (name: string) => `${name}@kelpwick.example`;

beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});

const activeCell = () =>
	p.driver.executeScript(
		`const g = document.activeElement; const c = document.getElementById(g.getAttribute('aria-activedescendant')); return c.closest('[data-row]').dataset.row + ' ' + c.dataset.column`
	) as Promise<string>;
/** Moves in the grid to a row, in the present column. */
async function downTo(row: string) {
	for (let i = 0; i < 200; i++) {
		if ((await activeCell()).startsWith(`${row} `)) return;
		await p.keys(Key.ARROW_DOWN);
	}
	throw new Error(`The arrow does not lead to ${row}`);
}

describe('by keyboard alone', () => {
	it('signs in', async () => {
		await p.go(`${app.url}/signin`);
		await p.tabTo(/Maren Holt/);
		await p.keys(Key.ENTER);
		await p.says('h1', /^Variance/);
		await p.settled();
	});

	it('loads October and maps what is new', async () => {
		await p.chord(Key.CONTROL, 'k');
		await p.keys('load a ledger');
		await p.says('[role=option]', /Load a ledger file/);
		await p.keys(Key.ENTER);
		await p.says('h1', /^Ledger feed$/);
		await p.tabTo(/Choose a month/);
		// The file is named to the focused field; the system's own dialog is not the page's part.
		await (await p.driver.switchTo().activeElement()).sendKeys(resolve('demo/inbox/ledger-2026-10.csv'));
		await p.says('section h2', /1 ledger account is not mapped/);
		await p.tabTo(/^Map to Online marketing/);
		await p.keys(Key.ENTER);
		await p.says('section h2', /All ledger accounts are mapped/);
		await p.tabTo(/^Load Oct 26/);
		await p.keys(Key.ENTER);
		await p.told(/October 2026: \d+ entries loaded/);
		await p.tabTo(/^See the variances/);
		await p.keys(Key.ENTER);
		await p.says('h1', /^Variance.*October 2026/);
	});

	it('takes the report out', async () => {
		await p.tabTo(/^Download XLSX/);
		await p.keys(Key.ENTER);
		await p.driver.wait(async () => readdirSync(p.downloads).some((f) => f.endsWith('.xlsx')), 10_000);
	});

	it('opens the mis-keyed invoice from the variance report, and closes the side sheet', async () => {
		await p.tabTo(/\|treegrid$/);
		await downTo('5050');
		await p.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, ' ');
		await p.says('aside .alarm', /1 entry far from the usual size/);
		// One of the tabs is reached by Tab; the arrows choose among them, round at the ends, and Tab leads on.
		await p.tabTo(/^Trace\|BUTTON\|tab$/);
		const chosen = 'aside [role=tab][aria-selected=true]';
		await p.keys(Key.ARROW_RIGHT);
		await p.says(chosen, /^Notes and items/);
		await p.keys(Key.END);
		await p.says(chosen, /^History/);
		await p.keys(Key.ARROW_RIGHT);
		await p.says(chosen, /^Trace$/);
		await p.keys(Key.TAB);
		expect(await p.driver.executeScript('return document.activeElement.getAttribute("role")')).not.toBe(
			'tab'
		);
		await p.keys(Key.ESCAPE);
		await p.gone('aside');
	});

	it('chooses the span of the report with the arrow keys', async () => {
		await p.tabTo(/^Month\|BUTTON/);
		await p.keys(Key.ARROW_RIGHT, Key.ENTER);
		await p.says('[aria-label=Span] [aria-pressed=true]', /^Year to date$/);
		await p.keys(Key.ARROW_LEFT, ' ');
		await p.says('[aria-label=Span] [aria-pressed=true]', /^Month$/);
	});

	it('goes anywhere with Ctrl+K', async () => {
		await p.chord(Key.CONTROL, 'k');
		await p.keys('assum');
		await p.says('[role=option]', /Assumptions/);
		await p.keys(Key.ENTER);
		await p.says('h1', /^Assumptions$/);
	});

	it('changes an assumption and saves with Ctrl+S', async () => {
		await p.tabTo(/\|treegrid$/);
		await p.keys(Key.END);
		await p.keys(Key.ARROW_LEFT, '2', Key.ENTER);
		await p.says('.count', /1 cell not saved/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 cell saved/);
	});

	it('opens a formula, sees the mistake, leaves it as it was', async () => {
		await p.chord(Key.CONTROL, 'k');
		await p.keys('boat sales driver');
		await p.says('[role=option]', /Boat sales/);
		await p.keys(Key.ENTER);
		await p.says('h1', /^Boat sales$/);
		await p.tabTo(/\|treegrid$/);
		await downTo('revenue');
		await p.keys(Key.HOME, Key.ENTER);
		await p.find('.cm-focused');
		await p.keys(' +');
		await p.says('.errors li', /ends too early/);
		await p.keys(Key.ESCAPE);
		await p.gone('.cm-content');
	});

	it('plans a department: types, fills right, undoes, saves, changes a basis, submits', async () => {
		await p.signIn(app.url, at('tom.aldous'));
		await p.says('h1', /Dealer Sales/);
		await p.tabTo(/\|treegrid$/);
		await downTo('6240');
		await p.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, '900', Key.ENTER, Key.ARROW_UP);
		await p.driver
			.actions()
			.keyDown(Key.SHIFT)
			.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT)
			.keyUp(Key.SHIFT)
			.perform();
		await p.chord(Key.CONTROL, 'r');
		await p.says('.count', /3 cells not saved/);
		await p.says('.foot', /Sum 2,700\.00 · Average 900\.00 · Count 3/);
		await p.chord(Key.CONTROL, 'z');
		await p.says('.count', /1 cell not saved/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 cell saved/);
		await p.keys(Key.HOME, Key.ARROW_RIGHT, Key.ENTER);
		await p.says('dialog h3', /Basis of Dealer support/);
		await p.keys(Key.ESCAPE);
		await p.gone('dialog[open] #basis');
		await p.tabTo(/^Submit …/, 80);
		await p.keys(Key.ENTER);
		await p.find('#comment');
		await p.tabTo(/^Submit\|/);
		await p.keys(Key.ENTER);
		await p.says('.top p', /has been submitted/);
	});

	it('returns it as reviewer, with a reason', async () => {
		await p.signIn(app.url, at('oliver.strand'));
		await p.says('h1', /FY28 Budget, first pass/);
		await p.tabTo(/^Dealer Sales\|A/);
		await p.tabTo(/^More/);
		await p.keys(Key.ENTER);
		await p.tabTo(/^Return …/);
		await p.keys(Key.ENTER);
		await p.find('#comment');
		await p.tabTo(/^Why\|/);
		await p.keys('Too much.');
		await p.tabTo(/^Return\|/);
		await p.keys(Key.ENTER);
		await p.says('tr', /^Dealer Sales returned/);
	});

	it('closes the month', async () => {
		await p.signIn(app.url, at('maren.holt'));
		await p.chord(Key.CONTROL, 'k');
		await p.keys('close a month');
		await p.says('[role=option]', /Close a month/);
		await p.keys(Key.ENTER);
		await p.says('h1', /^Forecast$/);
		await p.tabTo(/^Close Oct 26 …/);
		await p.keys(Key.ENTER);
		await p.find('#close-name');
		await p.tabTo(/^Close the month/);
		await p.keys(Key.ENTER);
		await p.says('.top p', /actuals through October 2026/);
	});
});
