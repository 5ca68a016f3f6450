/** Pages and dialogs for those who do not see the screen, or see it badly (WCAG 2.2, as far as axe tells). */
import AxeBuilder from '@axe-core/webdriverjs';
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

describe('axe finds nothing serious', () => {
	it.each([
		'/compare',
		'/plan?scenario=fy28-budget&department=dealer-sales',
		'/drivers',
		'/drivers/boat_sales?open=units',
		'/collect',
		'/forecast',
		'/setup/feed',
		'/setup/map',
		'/setup/company',
		'/setup/accounts',
		'/setup/departments',
		'/setup/currencies',
		'/setup/people',
		'/setup/mail',
		'/forecast/what-if?scenario=dearer-kayaks',
		'/forecast/history?scenario=fy28-budget',
		'/drivers/boat_sales?rows=line,product&across=channel&open=units',
		'/drivers/boat_sales?beside=fy27-budget&as=difference',
		'/drivers/boat_sales/design',
		'/drivers/members',
		'/drivers/combinations',
		'/drivers/profiles',
		'/plan/targets?scenario=fy28-budget',
		'/plan/schedules?scenario=fy28-budget',
		'/plan/schedules/staff?scenario=fy28-budget&open=K090',
		'/plan/schedules/staff/design?scenario=fy28-budget'
	])('on %s', async (path) => {
		await p.go(app.url + path);
		expect(await serious('body')).toEqual([]);
	});

	const PLAN = '/plan?scenario=fy28-budget&department=dealer-sales&from=2027-04&to=2028-03';
	const MODEL = '/drivers/boat_sales?scenario=fy28-budget&from=2027-04&to=2028-03';
	const press = async (row: string, column: string, ...keys: string[]) => {
		await (await p.cell(row, column)).click();
		await p.keys(...keys);
	};
	it.each<[what: string, path: string, open: () => Promise<unknown>, shows: string, part: string]>([
		['marks and keys', PLAN, () => press('6240', '2027-04', Key.F1), 'dialog[open] .cell', 'dialog[open]'],
		[
			'what a figure is made of',
			PLAN,
			() => press('6240', '2027-04', Key.SPACE),
			'aside [role=tablist]',
			'aside'
		],
		[
			'the menu of a cell',
			PLAN,
			() => press('6240', '2027-04').then(() => p.chord(Key.SHIFT, Key.F10)),
			'[role=menu]',
			'[role=menu]'
		],
		[
			'a total that is spread',
			PLAN,
			() => press('6240', 'total', '9', Key.ENTER),
			'dialog[open] #how',
			'dialog[open]'
		],
		['a basis', PLAN, () => press('6240', 'basis'), 'dialog[open] form', 'dialog[open]'],
		[
			'a search without rows',
			PLAN,
			async () => (await p.find('.seek input')).sendKeys('xyz'),
			'.none',
			'.frame'
		],
		[
			'the choice of months',
			PLAN,
			async () => (await p.find('header label:nth-of-type(3) option[value="other"]')).click(),
			'#window-from',
			'dialog[open]'
		],
		[
			'a formula',
			MODEL,
			() => press('price', 'formula', Key.ENTER),
			'dialog[open] .cm-content',
			'dialog[open]'
		],
		[
			'an arrangement',
			MODEL,
			() => p.click('button', /^Arrange …$/),
			'dialog[open] form, dialog[open] label',
			'dialog[open]'
		],
		[
			'an adjustment',
			'/forecast/what-if?scenario=dearer-kayaks',
			() => p.click('button', /^Add adjustment …$/),
			'dialog[open] input',
			'dialog[open]'
		]
	])('in %s', async (_, path, open, css, part) => {
		await p.go(app.url + path);
		await open();
		await p.find(css);
		expect(await serious(part)).toEqual([]);
	});
});

/** What axe finds serious in a part of the page as it is: in the light all of it, in the dark what else there is of contrast. */
async function serious(part: string): Promise<string[]> {
	// In the page itself: another window would take the focus, and a menu closes without it.
	// Of what passes, one place is enough to say that it was looked at.
	const axe = () =>
		new AxeBuilder(p.driver)
			.setLegacyMode(true)
			.options({ resultTypes: ['violations'] })
			.include(part)
			// Rows further down are made like those above them.
			.exclude('.row:nth-child(n + 9)')
			.exclude('tbody > tr:nth-child(n + 9)');
	const light = await axe().analyze();
	await p.driver.executeScript(`document.documentElement.classList.add('dark')`);
	const dark = await axe().withRules(['color-contrast']).analyze();
	// Without anything looked at, nothing would be found.
	expect(light.passes.length).toBeGreaterThan(3);
	return [...light.violations, ...dark.violations]
		.filter((v) => v.impact === 'serious' || v.impact === 'critical')
		.map((v) => `${v.id}: ${v.nodes[0].html.slice(0, 160)} ${v.nodes[0].failureSummary?.slice(0, 200)}`);
}
