/** Targets from the top beside the plan from below: made, typed, spread to the cent, and seen by each department. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { Key, Person } from '../support/browser';

let app: App;
let p: Person;
const WINDOW = 'from=2026-10&to=2027-09';
/** So few months that all columns stand side by side. */
const QUARTER = 'from=2026-10&to=2026-12';
beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});
interface Targets {
	target: { code: string } | null;
	lines: { account: string }[];
	rows: { department: string; cells: { target: number | null; plan: number | null }[] }[];
}
const targets = () => p.read<Targets>(`plan/targets?scenario=fy27-forecast-6-6&${WINDOW}`);
const under = async (scenario: string, department: string, account: string, window = WINDOW) =>
	(
		await p.read<{ rows: { department: string; account: string; cells: (number | null)[] }[] }>(
			`plan/under?scenario=${scenario}&department=${department}&account=${account}&${window}`
		)
	).rows;
const cents = (rows: { cells: (number | null)[] }[]) =>
	rows.flatMap((r) => r.cells).reduce<number>((sum, v) => sum + Math.round((v ?? 0) * 100), 0);
const whole = (v: number) => Math.abs(v).toLocaleString('en-GB', { maximumFractionDigits: 0 });

describe('targets', () => {
	it('are made from the plan as it stands, account by account', async () => {
		await p.go(`${app.url}/plan/targets?scenario=fy27-forecast-6-6&department=kelpwick&${WINDOW}`);
		await p.says('main', /has no targets yet/);
		await p.click('main button', 'Make targets');
		await p.told(/Targets are made/);
		const { target, lines, rows } = await targets();
		const revenue = lines.findIndex((l) => l.account === 'revenue');
		const sales = rows.find((r) => r.department === 'dealer-sales')!.cells[revenue];
		expect(sales.target).toBe(sales.plan);
		expect(await under(target!.code, 'dealer-sales', 'revenue')).toHaveLength(
			(await under('fy27-forecast-6-6', 'dealer-sales', 'revenue')).length
		);
	});
	it('are typed for a whole branch, spread into every account and month to the cent, and undone', async () => {
		const { target, lines, rows } = await targets();
		const revenue = lines.findIndex((l) => l.account === 'revenue');
		const branch = rows.find((r) => r.department === 'sales')!;
		const before = await under(target!.code, 'sales', 'revenue');
		const goal = Math.round(branch.cells[revenue].plan! / 1000) * 1000 + 50_000.01;
		await (await p.cell(branch.department, 'revenue/target')).click();
		await p.keys(String(goal), Key.ENTER);
		await p.says('h3', /^Target: Revenue, Sales/);
		await p.click('button', /^Spread$/);
		await p.says('.notice', /The target is saved, in [\d,]+ cells/);
		const after = await under(target!.code, 'sales', 'revenue');
		expect(cents(after)).toBe(Math.round(goal * 100));
		const now = (await targets()).rows.find((r) => r.department === 'sales')!.cells[revenue];
		expect(now.target).toBeCloseTo(goal, 6);
		await p.cellShows(branch.department, 'revenue/target', whole(goal));
		await p.cellShows(branch.department, 'revenue/gap', `−${whole(goal - now.plan!)}`);
		await p.click('.notice button', 'Undo');
		await p.driver.wait(
			async () => cents(await under(target!.code, 'sales', 'revenue')) === cents(before),
			15_000,
			'the target is not undone'
		);
		expect(await under(target!.code, 'sales', 'revenue')).toEqual(before);
	});
	it('say why a result cannot be typed', async () => {
		await (await p.find('main label select')).sendKeys('Profit');
		await (await p.cell('sales', 'profit/target')).click();
		await p.keys('5');
		await p.told(/mixes revenue and expense/);
	});
	it('are set for the whole company in its currency, of which each department gets its part in its own', async () => {
		await (await p.find('main label select')).sendKeys('all');
		const { target, lines } = await targets();
		const revenue = lines.findIndex((l) => l.account === 'revenue');
		const of = async (department: string) =>
			(await targets()).rows.find((r) => r.department === department)!.cells[revenue].target!;
		const [all, baltic] = [await of('kelpwick'), await of('baltic')];
		const euro = cents(await under(target!.code, 'baltic', 'revenue'));
		const goal = Math.round(all / 1000) * 1000 + 100_000;
		await (await p.cell('kelpwick', 'revenue/target')).click();
		await p.keys(String(goal), Key.ENTER);
		await p.says('h3', /^Target: Revenue, Kelpwick Boatworks/);
		await p.says('dialog .hint', /^Departments in other currencies get their part at the average rate/);
		await p.click('button', /^Spread$/);
		await p.says('.notice', /The target is saved, in [\d,]+ cells/);
		// To the penny, though euro are whole cents of their own.
		expect(Math.abs((await of('kelpwick')) - goal)).toBeLessThan(0.005);
		expect((await of('baltic')) / baltic).toBeCloseTo(goal / all, 4);
		const now = cents(await under(target!.code, 'baltic', 'revenue'));
		expect(now / euro).toBeCloseTo(goal / all, 4);
		await p.click('.notice button', 'Undo');
		await p.driver.wait(
			async () => cents(await under(target!.code, 'baltic', 'revenue')) === euro,
			15_000,
			'the target is not undone'
		);
	});
	it('say in which currency they can be set together, where each is shown in its own', async () => {
		await p.go(
			`${app.url}/plan/targets?scenario=fy27-forecast-6-6&department=kelpwick&${WINDOW}&money=local`
		);
		await (await p.cell('kelpwick', 'revenue/target')).click();
		await p.keys('5');
		await p.told(/plan in several currencies: choose GBP above/);
	});
	it('stand beside a department’s plan with the gap, which follows what is typed', async () => {
		const { target } = await targets();
		const [post] = await under(target!.code, 'dealer-sales', '6240', QUARTER);
		expect(post).toBeDefined();
		const set = cents([post]) / 100;
		await p.go(`${app.url}/plan?scenario=fy27-forecast-6-6&department=dealer-sales&${QUARTER}`);
		await p.cellShows('6240', 'target', whole(set));
		const plan = (await under('fy27-forecast-6-6', 'dealer-sales', '6240'))[0].cells;
		await (await p.cell('6240', '2026-10')).click();
		await p.keys(String(plan[0]! + 1000), Key.ENTER);
		await p.cellShows('6240', 'gap', '1,000');
		await p.chord(Key.CONTROL, 'z');
		await p.cellShows('6240', 'gap', '–');
	});
	it('are not there for those whom the scenario of targets is hidden from', async () => {
		const { target } = await targets();
		await p.driver.executeScript(
			`return fetch('/api/v1/scenarios/${target!.code}', { method: 'PATCH', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ visibility: 'people', people: [] }) }).then((r) => r.status)`
		);
		const head = await Person.open();
		try {
			await head.signIn(app.url, 'tom.aldous@kelpwick.example');
			await head.go(`${app.url}/plan/targets?scenario=fy27-forecast-6-6&${WINDOW}`);
			await head.says('main', /has no targets yet/);
			expect(
				await head.driver.executeScript(`return document.body.textContent.includes('Make targets')`)
			).toBe(false);
		} finally {
			await head.close();
		}
	});
});
