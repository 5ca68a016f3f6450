/** Schedules by keyboard alone: not one click. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';

let app: App;
let p: Person;
const S = 'fy28-budget';
const YEAR = 'from=2027-04&to=2028-03';

beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	await p.go(`${app.url}/plan?scenario=${S}&${YEAR}`);
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});

/** The row and the column of the grid's cell. */
const active = () =>
	p.driver.executeScript(
		`const g = document.activeElement; const c = document.getElementById(g.getAttribute('aria-activedescendant')); return [c.closest('[data-row]').dataset.row, c.dataset.column]`
	) as Promise<[row: string, column: string]>;
/** Moves in the grid until the cell is in this column, or row. */
async function move(key: string, at: 0 | 1, wanted: string) {
	for (let i = 0; i < 60; i++) {
		if ((await active())[at] === wanted) return;
		await p.keys(key);
	}
	throw new Error(`The key does not lead to ${wanted}`);
}
/** Chooses from the menu that is open. */
async function item(words: RegExp) {
	for (let i = 0; i < 30; i++) {
		const label = await p.driver.executeScript('return document.activeElement.innerText');
		if (words.test(label as string)) return p.keys(Key.ENTER);
		await p.keys(Key.ARROW_DOWN);
	}
	throw new Error(`The menu has no ${words}`);
}
async function goTo(words: string, title: RegExp) {
	await p.chord(Key.CONTROL, 'k');
	await p.keys(words);
	await p.says('[role=option]', title);
	await p.keys(Key.ENTER);
	await p.says('h1', title);
	await p.settled();
}
const cells = async (schedule: string, row: string, line: string) => {
	const { rows } = await p.read<{ rows: { id: string; kind: string; cells: (number | null)[] }[] }>(
		`schedules/${schedule}?scenario=${S}&${YEAR}&line=${line}`
	);
	return rows.find((r) => r.id === row && r.kind === 'row')!.cells;
};
const rises = (pay: (number | null)[], month: number) => pay[month]! / pay[month - 1]!;

describe('by keyboard alone', () => {
	it('two open posts start two months later, in one change', async () => {
		const before = await cells('staff', 'P01', 'pay');
		await goTo('staff', /^Staff/);
		await p.tabTo(/^Find in all columns/);
		await p.keys('laminator');
		await p.says('.together', /2 of 85/);
		await p.tabTo(/\|treegrid$/);
		await move(Key.ARROW_UP, 0, 'P01');
		await move(Key.ARROW_RIGHT, 1, 'start');
		await p.chord(Key.SHIFT, Key.ARROW_DOWN);
		await p.chord(Key.SHIFT, Key.F10);
		await item(/^Change these together/);
		await p.says('dialog', /Change 2 cells together/);
		await p.keys('2', Key.ENTER);
		await p.told(/2 cells are changed, and not saved yet/);
		await p.cellShows('P01', 'start', '1 Jul 2027');
		await p.cellShows('P02', 'start', '1 Jul 2027');
		await p.cellShows('P02', '2027-06', '–');
		await p.chord(Key.CONTROL, 's');
		await p.told(/2 changes saved/);
		const after = await cells('staff', 'P01', 'pay');
		expect([before[1], after[2], after[3]]).toEqual([before[3], 0, before[3]]);
	});
	it('a whole group gets a rise from a month on', async () => {
		await goTo('pay rises', /^Pay rises/);
		await p.tabTo(/\|treegrid$/);
		await p.chord(Key.ALT, Key.ARROW_RIGHT);
		await p.says('.name', /^Workshop$/);
		await p.keys(Key.ARROW_DOWN);
		await move(Key.ARROW_RIGHT, 1, '2027-10');
		await p.keys('2%', Key.ENTER);
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 cell saved/);
		expect(rises(await cells('staff', 'K003', 'pay'), 6)).toBeCloseTo(1.02, 9);
		// Managers are another group.
		expect(rises(await cells('staff', 'K001', 'pay'), 6)).toBeCloseTo(1, 9);
	});
	it('a person is divided over two departments, and named while shares do not come to all of it', async () => {
		await goTo('staff', /^Staff/);
		await p.tabTo(/^Columns, /);
		await p.keys(Key.ENTER);
		await p.tabTo(/^Divided with/);
		await p.keys(' ');
		await p.tabTo(/^Show these/);
		await p.keys(Key.ENTER);
		await p.gone('dialog[open]');
		await p.settled();
		await p.tabTo(/\|treegrid$/);
		await move(Key.ARROW_DOWN, 0, 'K002');
		await p.keys(Key.END);
		await move(Key.ARROW_LEFT, 1, 'shares');
		await p.keys('rigging', Key.ENTER);
		await move(Key.ARROW_UP, 0, 'K002');
		await p.says('.errors', /Bryn Farrow \(200\.0 % in Apr 27\)/);
		// A share is typed once the departments are saved.
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 change saved/);
		await p.chord(Key.ALT, Key.ARROW_RIGHT);
		await p.find('[data-row="K002|share|hull-shop"]');
		await move(Key.ARROW_DOWN, 0, 'K002|share|hull-shop');
		await move(Key.ARROW_RIGHT, 1, '2027-04');
		await p.keys('60', Key.ENTER, '40', Key.ENTER);
		await move(Key.ARROW_UP, 0, 'K002|share|hull-shop');
		for (const line of ['hull-shop', 'rigging']) {
			await move(Key.ARROW_DOWN, 0, `K002|share|${line}`);
			await move(Key.ARROW_LEFT, 1, '2027-04');
			for (let i = 0; i < 14; i++) await p.chord(Key.SHIFT, Key.ARROW_RIGHT);
			await p.chord(Key.CONTROL, 'r');
		}
		await p.says('.errors', /^Not divided into 100 %: Piers Hallam [^,]+$/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/changes saved/);
	});
	it('a list opens with the columns and widths that were chosen in it', async () => {
		const width = () =>
			p.driver.executeScript(
				`return document.querySelector('[data-row="K001"] [data-column="name"]').getBoundingClientRect().width`
			);
		await p.tabTo(/\|treegrid$/);
		await p.keys(Key.HOME);
		const before = await width();
		await p.driver
			.actions()
			.keyDown(Key.ALT)
			.keyDown(Key.SHIFT)
			.sendKeys(Key.ARROW_RIGHT)
			.keyUp(Key.SHIFT)
			.keyUp(Key.ALT)
			.perform();
		const wider = await width();
		expect(wider).toBeGreaterThan(Number(before));
		await goTo('contracts', /^Contracts/);
		await goTo('staff', /^Staff/);
		await p.find('[data-row="K001"] [data-column="shares"]');
		expect(await width()).toBe(wider);
	});
	it('a machine lives a month longer, by a list that is pasted', async () => {
		await goTo('assets', /^Assets/);
		await p.tabTo(/^Load …/);
		await p.keys(Key.ENTER);
		await p.tabTo(/\|TEXTAREA\|/);
		await p.keys('id,Life\nA006,73');
		await p.says('dialog', /72.*73/s);
		await p.tabTo(/^Load\|BUTTON/);
		await p.keys(Key.ENTER);
		await p.told(/1 row added or changed/);
		expect((await cells('assets', 'A006', 'depreciation'))[5]).toBeCloseTo(61_200 / 73, 9);
	});
	it('a list of one’s own is begun from a template', async () => {
		await goTo('all schedules', /^(List\s+)?(All )?[Ss]chedules/);
		await p.tabTo(/^New schedule …/);
		await p.keys(Key.ENTER);
		await p.tabTo(/^Name\|INPUT/);
		await p.keys('Marketing contracts');
		await p.tabTo(/^Make it/);
		await p.keys(Key.ENTER);
		await p.says('h1', /^Marketing contracts$/);
		// What is typed into a list is read while it is not whole yet, and refused.
		expect((await p.complaints()).filter((c) => !c.includes('/import'))).toEqual([]);
	});
});
