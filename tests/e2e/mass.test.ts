/** Fifty thousand pasted cells, over calculated ones too: what fits is put in, the rest is told, nothing is lost. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ModelFigures } from '../../src/lib/core/views/model-view';
import { Client, startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';

const LINES = 'units,list_price,discount,unit_material';
const SPAN = 'scenario=fy28-budget&from=2027-04&to=2037-03';
let app: App;
let p: Person;
let maren: Client;

beforeAll(async () => {
	app = await startApp('demo/company');
	maren = await Client.signIn(app, 'maren.holt@kelpwick.example');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
	const longer = await maren.fetch('/api/v1/scenarios/fy28-budget', {
		method: 'PATCH',
		headers: { 'content-type': 'application/json' },
		body: JSON.stringify({ last: '2037-03' })
	});
	expect(longer.status).toBe(200);
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});

const figures = () => maren.get<ModelFigures>(`models/boat_sales?${SPAN}&open=${LINES}`);

describe('a paste of fifty thousand cells', () => {
	it('shows what is left out, can be undone in one step, and is saved whole', async () => {
		await p.go(`${app.url}/drivers/boat_sales?${SPAN}&department=kelpwick&open=${LINES}`);
		await p.find('[data-row="units"]');
		const before = await figures();
		const count = before.rows.length;
		await (await p.cell('units', '2027-04')).click();
		// A block over all rows and a hundred months, heads and calculated lines among them.
		await p.driver.executeScript(
			`const grid = document.querySelector('[role=treegrid]');
			const line = Array.from({ length: 100 }, (_, c) => c % 2 ? '3.25' : '2.5').join('\\t');
			const text = Array.from({ length: ${count} }, () => line).join('\\n');
			const data = new DataTransfer();
			data.setData('text/plain', text);
			grid.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));`
		);
		const typed = before.rows.filter(
			(r) => LINES.split(',').includes(r.targets[0]!.line) && r.heads === null
		);
		const cells = typed.length * 100;
		expect(cells).toBeGreaterThan(50_000);
		const said = cells.toLocaleString('en-GB');
		await p.says('dialog', /calculated and cannot be typed/);
		await p.says('dialog', new RegExp(said));
		// The keys are the grid's again in the moment the dialog goes, or a quick Ctrl+Z would be lost.
		const paste = await p.named('dialog button', /^Paste/);
		const focused = await p.driver.executeScript(
			`arguments[0].click();
			return new Promise(requestAnimationFrame).then(() => document.activeElement.getAttribute('role'));`,
			paste
		);
		expect(focused).toBe('treegrid');
		await p.says('[role=status]', new RegExp(`${said} cells not saved`));
		await p.chord(Key.CONTROL, 'z');
		await p.driver.wait(
			async () => (await p.driver.findElements(By.css('.bar .count'))).length === 0,
			20_000,
			'the paste is not taken back'
		);
		await p.chord(Key.CONTROL, 'y');
		await p.says('[role=status]', new RegExp(`${said} cells not saved`));
		await p.chord(Key.CONTROL, 's');
		await p.driver.wait(
			async () => /saved;/.test(await p.driver.findElement(By.css('.notices')).getText()),
			60_000,
			'the paste is not saved'
		);
		const after = await figures();
		for (const [n, row] of after.rows.entries()) {
			const own = typed.some((r) => r.key === row.key);
			const months = row.cells.slice(0, 120);
			if (own) {
				// In a line of percentages 2.5 means 2.5 %.
				const part = row.targets[0]!.line === 'discount' ? 0.01 : 1;
				months.slice(0, 100).forEach((v, m) => expect(v).toBeCloseTo((m % 2 ? 3.25 : 2.5) * part, 12));
				expect(months.slice(100)).toEqual(before.rows[n].cells.slice(100, 120));
			}
		}
		// What is calculated follows: 2.5 or 3 of each, less nothing typed elsewhere.
		const units = after.rows.find((r) => r.key === 'units')!.cells.slice(0, 100);
		units.forEach((v, m) => expect(v).toBeCloseTo((typed.length / 4) * (m % 2 ? 3.25 : 2.5), 6));
	}, 180_000);
});

describe('more opened rows than an address can hold', () => {
	it('stay open, in an address that is short and can be opened again', async () => {
		const others = Array.from(
			{ length: 80 },
			(_, i) => `region:somewhere-else>product:number-${i}>line:${i}`
		);
		const open = encodeURIComponent(others.join(','));
		await p.go(
			`${app.url}/drivers/boat_sales?scenario=fy28-budget&from=2027-04&to=2028-03&department=kelpwick&open=${open}`
		);
		await (await p.find('[data-row="units"] button.toggle')).click();
		const isOpen = () => p.find('[data-row="units"][aria-expanded="true"]');
		await isOpen();
		const address = await p.driver.getCurrentUrl();
		expect(address).toMatch(/open=%40[0-9a-f]{32}/);
		expect(address.length).toBeLessThan(400);
		await p.go(address);
		await isOpen();
	});
});
