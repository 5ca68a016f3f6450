/** Schedules through the browser: made, filled, typed into with the effect in sight, opened, followed and taken back. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client, startApp, type App } from '../support/app';
import { By, Key, Person } from '../support/browser';

let app: App;
let p: Person;
const S = 'fy28-budget';
const YEAR = 'from=2027-04&to=2028-03';
const STAFF = `/plan/schedules/staff?scenario=${S}&${YEAR}`;

beforeAll(async () => {
	app = await startApp('demo/company');
	p = await Person.open();
	await p.signIn(app.url, 'maren.holt@kelpwick.example');
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});

const schedule = (code: string, more = '') =>
	p.read<{
		rows: { id: string; kind: string; cells: (number | null)[] }[];
		totals: (number | null)[];
		list: { id: string }[];
	}>(`schedules/${code}?scenario=${S}&${YEAR}${more}`);
const rent = async (department: string): Promise<(number | null)[]> => {
	const { rows } = await p.read<{ rows: { account: string; cells: (number | null)[] }[] }>(
		`plan?scenario=${S}&department=${department}&${YEAR}`
	);
	return rows.find((r) => r.account === '6050')!.cells;
};
describe('a schedule of one’s own', () => {
	it('is built from blank: a fee, a deposit and an end, posted to an account that is named in the row', async () => {
		await p.go(`${app.url}/plan/schedules?scenario=${S}&${YEAR}`);
		await p.click('button', 'New schedule …');
		await p.click('dialog label', /a blank list/);
		await (await p.find('#schedule-name')).sendKeys('Equipment leases');
		await (await p.find('#schedule-one')).sendKeys('lease');
		await p.click('dialog button', 'Make it');
		await p.says('h1', /^Equipment leases$/);
		await p.click('a', 'Columns and lines');
		await p.says('h1', /columns and lines/);
		for (const [label, kind, needed] of [
			['Account', 'account', true],
			['Fee', 'money', true],
			['Start', 'date', true],
			['End', 'date', false]
		] as const) {
			await p.click('button', 'Add a column');
			const field = await p.find('.form input');
			await field.clear();
			await field.sendKeys(label);
			await (await p.find('.form select')).sendKeys(kind);
			if (needed) await p.click('label', /each lease has to have one/);
		}
		await p.click('li button', /^Amount/);
		await p.click('label', /^\s*calculated/);
		await (await p.find('.cm-content')).sendKeys(Key.BACK_SPACE, 'fee * active(start, en');
		await p.says('.faults', /at character 22/);
		expect(await (await p.named('button', /^Save/)).isEnabled()).toBe(false);
		await p.keys('d)');
		await p.click('button', 'Add a posting …');
		await p.chord(Key.CONTROL, 's');
		await p.told(/Equipment leases is saved/);
	});
	it('takes rows that are typed or pasted, and shows what they come to before they are saved', async () => {
		await p.click('a', 'Figures');
		await p.says('h1', /^Equipment leases$/);
		await p.settled();
		await p.click('button', 'Add a lease');
		await p.keys(
			'Fork lift',
			Key.TAB,
			'hull',
			Key.TAB,
			'6050',
			Key.TAB,
			'200',
			Key.TAB,
			'16.5.2027',
			Key.ENTER
		);
		await p.cellShows('lease-1', '2027-06', '200');
		await p.cellShows('lease-1', '2027-05', '103');
		// Copied from a spreadsheet, with more rows than there are.
		await (await p.cell('lease-1', 'what')).click();
		await p.keys(Key.ARROW_DOWN, Key.INSERT);
		await p.paste('Printer\tSites & IT\tTraining\t50\t1 Apr 2027\nVan\tRefit Yard\t6050\t400\t2027-07-01');
		await p.cellShows('lease-3', '2027-07', '400');
		expect(await (await p.find('.together')).getText()).toMatch(/All 3$/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/changes saved/);
		expect(await (await p.find('.together')).getText()).toMatch(/All 3$/);
		const { totals } = await schedule('equipment_leases');
		expect(totals.slice(0, 4).map((t) => Math.round(t!))).toEqual([50, 153, 250, 650]);
		expect(
			Math.round((await rent('refit-yard'))[3]! - (await rent('refit-yard'))[2]!)
		).toBeGreaterThanOrEqual(400);
	});
	it('moves the cost with a date, says why a word is no date, and takes the change back', async () => {
		const before = await schedule('equipment_leases');
		await (await p.cell('lease-3', 'start')).click();
		await p.keys('31.2.2027', Key.ENTER);
		await p.told(/“31\.2\.2027” is no date/);
		await p.keys(Key.ESCAPE, '1.10.2027', Key.ENTER);
		await p.cellShows('lease-3', '2027-07', '–');
		await p.cellShows('lease-3', '2027-10', '400');
		await p.keys(Key.ESCAPE);
		await p.chord(Key.CONTROL, 'z');
		await p.cellShows('lease-3', '2027-07', '400');
		await p.chord(Key.CONTROL, 'y');
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 change saved/);
		expect((await schedule('equipment_leases')).totals[3]).toBe(250);
		await p.go(`${app.url}/forecast/history?scenario=${S}&${YEAR}`);
		await p.click('button', '1 change');
		await p.says('main', /Equipment leases: Van, Start/);
		await p.click('button', 'Take back');
		await p.told(/taken back/);
		expect((await schedule('equipment_leases')).totals).toEqual(before.totals);
	});
	it('is named as the basis of the accounts to which it is posted', async () => {
		await p.go(`${app.url}/plan?scenario=${S}&${YEAR}&department=refit-yard`);
		await p.cellShows('5100', 'basis', 'Staff');
		await (await p.cell('5100', 'basis')).click();
		await p.says('h1', /^Staff: Refit Yard$/);
	});
	it('says at row and column what keeps rows from being saved; nothing is lost', async () => {
		await p.go(`${app.url}/plan/schedules/equipment_leases?scenario=${S}&${YEAR}`);
		await (await p.cell('lease-1', 'fee')).click();
		await p.keys(Key.DELETE);
		await p.chord(Key.CONTROL, 's');
		await p.says('.faults', /lease-1, Fee: “Fee” is missing/);
		// The refusal itself.
		expect(await p.complaints()).toHaveLength(1);
		await p.says('.bar', /1 cell not saved/);
		await p.click('button', 'Discard');
	});
	it('groups, opens a row into its lines, picks from a list, and leads to the account', async () => {
		await p.go(`${app.url}/plan/schedules/equipment_leases?scenario=${S}&${YEAR}&group=department`);
		await p.says('.name', /Refit Yard, 1/);
		await (await p.cell('lease-3', 'department')).click();
		await p.keys(Key.ENTER);
		await p.find('[role=listbox]');
		await p.keys(Key.ARROW_DOWN, Key.ENTER);
		await p.cellShows('lease-3', 'department', 'Hull Shop');
		await p.click('button', 'Discard');
		await (await p.cell('lease-3', 'what')).click();
		await p.chord(Key.ALT, Key.ARROW_RIGHT);
		await p.cellShows('lease-3|amount', '2027-08', '400');
		await (await p.cell('lease-3', '2027-08')).click();
		await p.chord(Key.ALT, Key.ENTER);
		await p.says('h1', /Refit Yard/);
		expect(await p.driver.executeScript('return location.search')).toMatch(/at=6050/);
		expect(await p.complaints()).toEqual([]);
	});
	it('says of what stands in a row who typed it, and takes a note of it, by keys', async () => {
		await p.go(`${app.url}/plan/schedules/equipment_leases?scenario=${S}&${YEAR}`);
		await (await p.cell('lease-3', 'start')).click();
		await p.keys(' ');
		await p.says('aside h2', /^Start$/);
		await p.says('aside', /Typed in this row/);
		await p.click('aside [role=tab]', /^Notes/);
		await (await p.find('aside textarea')).sendKeys('Delivered late');
		await p.click('aside button', 'Write');
		await p.says('aside', /Delivered late/);
		await p.find('[data-row="lease-3"] .glyphs .note');
		await p.click('aside [role=tab]', /^History/);
		await p.says('aside .change', /Maren Holt/);
		expect(await p.complaints()).toEqual([]);
	});
	it('holds a deposit on a balance, with the account of its other side, until the lease ends', async () => {
		await p.go(`${app.url}/plan/schedules/equipment_leases/design?scenario=${S}&${YEAR}`);
		const named = async (label: string) => {
			const field = await p.find('.form input');
			await field.clear();
			await field.sendKeys(label);
		};
		await p.click('button', 'Add a column');
		await named('Deposit');
		await (await p.find('.form select')).sendKeys('money');
		await p.click('button', 'Add a line');
		await named('Deposit held');
		await p.click('label', /^\s*calculated/);
		await (
			await p.find('.cm-content')
		).sendKeys(
			Key.BACK_SPACE,
			'if(and(start <= period_end(), or(is_blank(end), end > period_end())), deposit, 0)'
		);
		const time = await p.named('label', /A quarter or a year is/);
		await time.findElement(By.css('select')).sendKeys('the last');
		await p.click('button', 'Add a posting …');
		await (await p.find('[aria-label="Account of posting 1 of Deposit held"]')).sendKeys('1110');
		await (await p.find('[aria-label="Other side of posting 1 of Deposit held"]')).sendKeys('1000');
		await p.says('.form', /its other side takes what it changes by/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/Equipment leases is saved/);
		await p.go(
			`${app.url}/plan/schedules/equipment_leases?scenario=${S}&${YEAR}&columns=what,start,end,deposit`
		);
		await (await p.cell('lease-3', 'end')).click();
		await p.keys('31.12.2027', Key.TAB, '900', Key.ENTER);
		await p.chord(Key.CONTROL, 's');
		await p.told(/2 changes saved/);
		const { rows } = await p.read<{ rows: { account: string; cells: (number | null)[] }[] }>(
			`plan?scenario=${S}&department=refit-yard&${YEAR}`
		);
		const held = (account: string) => rows.find((r) => r.account === account)!.cells;
		expect(held('1110')).toEqual([0, 0, 0, 900, 900, 900, 900, 900, 0, 0, 0, 0]);
		expect(held('1000').slice(2, 10)).toEqual([0, -900, -900, -900, -900, -900, 0, 0]);
		// What stands is opened into the leases for which it does.
		await p.go(`${app.url}/plan?scenario=${S}&${YEAR}&department=refit-yard&at=1000&month=2027-12`);
		await p.keys(' ');
		await p.says('aside', /At the end of Nov 27/);
		await p.says('aside', /Van · Refit Yard, change of Deposit held/);
	});
	it('is taken out by keys, and comes back with undo', async () => {
		await p.go(`${app.url}/plan/schedules/equipment_leases?scenario=${S}&${YEAR}`);
		await (await p.cell('lease-2', 'what')).click();
		await p.chord(Key.CONTROL, Key.DELETE);
		await p.gone('[data-row="lease-2"]');
		await p.chord(Key.CONTROL, 'z');
		await p.cellShows('lease-2', 'what', 'Printer');
		await p.chord(Key.CONTROL, 'y');
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 change saved/);
		expect((await schedule('equipment_leases')).list.map((r) => r.id)).toEqual(['lease-1', 'lease-3']);
	});
});

describe('a person who is divided over departments', () => {
	it('is flagged until shares come to 100 %, and stands with a part in each department’s plan', async () => {
		await p.go(`${app.url}/plan/schedules?scenario=${S}&${YEAR}`);
		await p.click('button', 'New schedule …');
		await (await p.find('#schedule-name')).sendKeys('Crew');
		await (await p.find('#post-pay')).sendKeys('6050');
		await p.click('dialog button', 'Make it');
		await p.says('h1', /^Crew$/);
		await p.go(
			`${app.url}/plan/schedules/crew?scenario=${S}&${YEAR}&columns=name,department,shares,start,annual`
		);
		await p.click('button', 'Add a person');
		await p.keys(
			'Ada Marsh',
			Key.TAB,
			'refit',
			Key.TAB,
			'harbour',
			Key.TAB,
			'1.4.2026',
			Key.TAB,
			'12000',
			Key.ENTER
		);
		await p.says('.errors', /Not divided into 100 %: Ada Marsh \(200\.0 % in Apr 27\)/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/saved/);
		await (await p.cell('person-1', 'name')).click();
		await p.chord(Key.ALT, Key.ARROW_RIGHT);
		const own = 'person-1|share|refit-yard';
		const other = 'person-1|share|harbour-club';
		await (await p.cell(own, '2027-04')).click();
		await p.keys('60', Key.ENTER, '40', Key.ENTER);
		await p.cellShows(other, '2027-04', '40.0 %');
		await p.says('.errors', /200\.0 % in May 27/);
		await p.chord(Key.CONTROL, 's');
		await p.told(/saved/);
		const part = async (department: string) =>
			(await schedule('crew', `&department=${department}`)).totals[0];
		expect([await part('refit-yard'), await part('harbour-club')]).toEqual([600, 400]);
		expect(await p.driver.findElements(By.css('.mark'))).not.toHaveLength(0);
	});
});

describe('a what-if over people', () => {
	const W = 'hire-earlier';
	const account = async (code: string, scenario: string): Promise<number> => {
		const { rows } = await p.read<{ rows: { account: string; total: number }[] }>(
			`plan?scenario=${scenario}&department=kelpwick&${YEAR}`
		);
		return rows.find((r) => r.account === code)!.total;
	};
	const value = (id: string, column: string) =>
		p
			.read<{ list: { id: string; values: Record<string, unknown> }[] }>(
				`schedules/staff?scenario=${W}&${YEAR}`
			)
			.then(({ list }) => list.find((r) => r.id === id)!.values[column]);
	/** Waits for what is said where the pointer rests on a cell. */
	const titled = async (row: string, column: string, words: RegExp) => {
		const cell = await p.cell(row, column);
		await p.driver.actions().move({ origin: cell }).perform();
		await p.driver.wait(async () => words.test((await cell.getAttribute('title')) ?? ''), 15_000, `${words}`);
	};
	it('pulls three open posts forward by a month, and says what that does beside the budget', async () => {
		const client = await Client.signIn(app, 'maren.holt@kelpwick.example');
		await client.post('scenarios', { from: S, name: 'Hire earlier', kind: 'what-if' });
		const before = await Promise.all(['5100', '5120', 'profit'].map((a) => account(a, S)));
		await p.go(
			`${app.url}/plan/schedules/staff?scenario=${W}&${YEAR}&line=pay&columns=name,open_post,start&where=open_post:yes`
		);
		await p.cellShows('P01', '2027-04', '–');
		await (await p.cell('P01', 'start')).click();
		await p.keys('1.4.2027', Key.ENTER, '1.4.2027', Key.ENTER, '15.5.2027', Key.ENTER);
		await p.cellShows('P01', '2027-04', '2,050');
		await p.chord(Key.CONTROL, 's');
		await p.told(/3 changes saved/);
		await (await p.find('.filters [aria-label="Compared with"] option[value="fy28-budget"]')).click();
		await p.says('section p', /^Against FY28 Budget: 3 different\. Pay .* there .*: \+6,\d\d\d\.$/);
		await p.says('section li', /Rigger\s+Start\s+15 May 2027, there 15 Jun 2027/);
		await titled('P01', 'start', /^In FY28 Budget: 1 May 2027$/);
		const [pay, taxes, profit] = await Promise.all(['5100', '5120', 'profit'].map((a) => account(a, W)));
		// Two laminators for a month each; a rigger from the middle of May to the middle of June.
		const rigger = (25_800 / 12) * (17 / 31 + 14 / 30);
		expect(pay - before[0]).toBeCloseTo((24_600 * 2) / 12 + rigger, 2);
		expect(taxes - before[1]).toBeCloseTo(0.155 * (pay - before[0]), 2);
		expect(before[2] - profit).toBeGreaterThan(pay - before[0] + (taxes - before[1]) - 1);
		expect(await account('profit', S)).toBe(before[2]);
	});
	it('raises pay of one department by an adjustment, bridges it, writes it into the rows and takes it back', async () => {
		const annual = (await value('K001', 'annual')) as number;
		await p.go(`${app.url}/forecast/what-if?scenario=${W}&${YEAR}&department=kelpwick`);
		await p.click('button', /^Add adjustment …$/);
		await (await p.find('#adjustment-name')).sendKeys('Hull shop paid better');
		await (await p.find('#line-0 option[value="staff.annual"]')).click();
		await (await p.find('#where-0-department option[value="hull-shop"]')).click();
		expect(await p.driver.findElements(By.css('#from-0'))).toEqual([]);
		await (await p.find('#amount-0')).sendKeys('4');
		await p.click('dialog[open] button', /^Add$/);
		await p.says('article .words', /\+4 % Staff: Annual pay · Hull Shop/);
		await p.says('.chart', /Hull shop paid better/);
		await p.says('article .effect', /^−\d\d,\d\d\d$/);
		await p.go(`${app.url}/plan/schedules/staff?scenario=${W}&${YEAR}&columns=name,annual`);
		await titled('K001', 'annual', /adjusted, typed is/);
		await p.go(`${app.url}/forecast/what-if?scenario=${W}&${YEAR}&department=kelpwick`);
		await p.click('[role=tab]', 'Why it differs');
		await (await p.find('.form select option[value="fy28-budget"]')).click();
		await p.click('.form button', 'Explain');
		await p.says('.chart', /Staff: Start/);
		await p.says('.chart', /Staff: Annual pay/);
		await p.click('article button', 'Adopt');
		await p.says('.adopted', /“Hull shop paid better” is written into the inputs: \d+ values/);
		expect(await value('K001', 'annual')).toBeCloseTo(annual * 1.04, 9);
		await p.click('.adopted button', 'Take it back');
		await p.told(/inputs are as they were/);
		expect(await value('K001', 'annual')).toBe(annual);
		expect(await p.complaints()).toEqual([]);
	});
});

describe('what renews and what wears out', () => {
	it('shows a licence renew, dearer by its uplift, and in which month', async () => {
		const cost = (await schedule('contracts', '&line=cost')).rows.find((r) => r.id === 'C001')!.cells;
		// 23,400 a year from June 2025, 3 % dearer each June.
		expect(cost[1]).toBeCloseTo(1950 * 1.03, 6);
		expect(cost[2]).toBeCloseTo(1950 * 1.03 ** 2, 6);
		await p.go(`${app.url}/plan/schedules/contracts?scenario=${S}&${YEAR}&line=renewal`);
		await p.click('label', 'with figures');
		await p.cellShows('C001', '2027-06', '24,825');
		await p.cellShows('C001', '2027-07', '–');
	});
	it('shows what is paid ahead as a balance, from the contracts that make it', async () => {
		await p.go(`${app.url}/plan?scenario=${S}&${YEAR}&department=design-office&at=1300&month=2027-06`);
		// A year's 24,825.06, paid in June, less June's twelfth.
		await p.cellShows('1300', '2027-06', '22,756');
		await p.cellShows('1300', '2027-07', '20,688');
		await p.keys(' ');
		await p.says('aside', /Hull design suite · Design Office\s+22,756\.31/);
		await p.says('aside', /Besides, 2 at 0\./);
		await p.chord(Key.ALT, Key.ENTER);
		await p.says('h1', /^Contracts: Design Office$/);
	});
	it('wears a machine out a month later when its life is a month longer, in the account too', async () => {
		const worn = async () => {
			const { rows } = await p.read<{ rows: { account: string; cells: (number | null)[] }[] }>(
				`plan?scenario=${S}&department=hull-shop&${YEAR}`
			);
			return rows.find((r) => r.account === '6710')!.cells.map((v) => v ?? 0);
		};
		const before = await worn();
		await p.go(`${app.url}/plan/schedules/assets?scenario=${S}&${YEAR}&columns=what,life&line=depreciation`);
		await p.cellShows('A006', '2027-08', '850');
		await p.cellShows('A006', '2027-09', '–');
		await (await p.cell('A006', 'life')).click();
		await p.keys('73', Key.ENTER);
		await p.cellShows('A006', '2027-09', '838');
		await p.cellShows('A006', '2027-10', '–');
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 change saved/);
		const after = await worn();
		expect(after[0] - before[0]).toBeCloseTo(61_200 / 73 - 850, 6);
		expect(after[5] - before[5]).toBeCloseTo(61_200 / 73, 6);
		expect(after[6] - before[6]).toBeCloseTo(0, 6);
	});
});

describe('a person who is put in', () => {
	beforeAll(() => p.size(1900, 900));
	afterAll(() => p.size(1280, 800));
	it('is said to need what the list requires, in sight or not, and counts when it stands there', async () => {
		await p.go(`${app.url}${STAFF}&department=refit-yard&columns=name,department,group,start,annual`);
		await p.click('button', 'Add a person');
		const needs = /K092 still needs Name, Group, Start, Tax region, Pay goes to and Taxes go to/;
		await p.says('.top', needs);
		await p.keys('Ada Marsh', Key.TAB, Key.TAB, 'workshop', Key.TAB, '1.6.2027', Key.TAB, '36000', Key.ENTER);
		await p.says('.top', /K092 still needs Tax region, Pay goes to and Taxes go to/);
		await p.click('button', 'Show all that is needed');
		await (await p.cell('K092', 'tax_region')).click();
		await p.paste('Kelp Coast, workshops\t6000\t6010');
		await p.cellShows('K092', '2027-06', '3,000');
		expect(await (await p.find('.top')).getText()).not.toMatch(/still needs/);
	});
	it('is called by what the company calls it, and otherwise when somebody was quicker', async () => {
		// Meanwhile somebody else puts in a row of the same number.
		const client = await Client.signIn(app, 'maren.holt@kelpwick.example');
		const { list } = await p.read<{ list: { id: string; values: Record<string, unknown> }[] }>(
			`schedules/staff?scenario=${S}&${YEAR}`
		);
		const row = { id: 'K092', values: list.find((r) => r.id === 'K003')!.values };
		await client.post('schedules/staff/rows', { scenario: S, changes: [{ kind: 'add', row }] });
		await p.chord(Key.CONTROL, 's');
		await p.told(/K092 is K093 now.*save again/);
		await (await p.cell('K093', 'name')).click();
		await p.chord(Key.SHIFT, Key.F10);
		await p.click('[role=menuitem]', /^Identifier …/);
		const { id: there } = list.find((r) => r.values.department === 'refit-yard')!;
		await p.keys(there);
		await p.says('dialog', new RegExp(`There is a person “${there}” already`));
		await p.chord(Key.CONTROL, 'a');
		await p.keys('HR-7', Key.ENTER);
		await p.cellShows('HR-7', '2027-06', '3,000');
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 change saved/);
		const { list: now } = await p.read<{ list: { id: string; values: { name: string } }[] }>(
			`schedules/staff?scenario=${S}&${YEAR}`
		);
		expect(now.filter((r) => r.values.name === 'Ada Marsh').map((r) => r.id)).toEqual(['HR-7']);
		expect(now.map((r) => r.id)).toContain('K092');
		const changes = ['HR-7', 'K092'].map((id) => ({ kind: 'remove', id }));
		await client.post('schedules/staff/rows', { scenario: S, changes });
	});
});

describe('a staff file', () => {
	it('that was corrected is loaded: each difference is shown first, who is missing stays, and mistakes are told', async () => {
		await p.go(app.url + STAFF);
		const before = await schedule('staff');
		await p.click('button', 'Load …');
		const list = await p.find('#list-text');
		await list.sendKeys('id;Name;Start\nP03;Rigger;31.02.2027');
		await p.says('dialog .faults', /row 2, column Start: “2027-02-31” is no date/);
		await list.clear();
		await list.sendKeys('id;Name;Start;Annual pay\nP03;Rigger;15.09.2027;26,400.00\n');
		await p.says('dialog li', /P03.*Start: 2027-06-15 → 2027-09-15, Annual pay: 25800 → 26400/s);
		await p.says('dialog', /are not in the list and stay: K001/);
		await p.click('dialog button', 'Load');
		await p.told(/1 row added or changed/);
		const after = await schedule('staff');
		expect(after.list).toHaveLength(before.list.length);
		const cells = (of: typeof after) => of.rows.find((r) => r.id === 'P03')!.cells;
		expect([cells(before)[2], cells(after)[2], cells(after)[6]]).toEqual([
			expect.closeTo((25_800 / 12) * (16 / 30), 6),
			0,
			2200
		]);
	});
	it('can be had as a workbook to fill', async () => {
		const { status, type } = await p.driver.executeAsyncScript<{ status: number; type: string }>(`
			const done = arguments[arguments.length - 1];
			fetch('/api/v1/schedules/staff/template?scenario=${S}').then((r) =>
				done({ status: r.status, type: r.headers.get('content-type') })
			);
		`);
		expect([status, type]).toEqual([200, expect.stringMatching(/spreadsheetml/)]);
	});
	it('ties to the accounts: the foot of a department is what its account holds', async () => {
		const { totals } = await schedule('staff', '&department=dealer-sales&line=pay');
		const { rows } = await p.read<{ rows: { account: string; cells: (number | null)[] }[] }>(
			`plan?scenario=${S}&department=dealer-sales&${YEAR}`
		);
		const salaries = rows.find((r) => r.account === '6000')!.cells;
		for (let t = 0; t < 12; t++) expect(totals[t]).toBeCloseTo(salaries[t]!, 6);
	});
	it('says above the list whose shares come to 90 %', async () => {
		await p.go(app.url + STAFF);
		await p.says('.errors', /Not divided into 100 %: Piers Hallam \(90\.0 % in Apr 27\)/);
	});
});

describe('individual pay', () => {
	const noor = 'noor.haddad@kelpwick.example';
	const lineNames = () =>
		p.driver.executeScript<string>(`return document.querySelector('.filters select').innerText`);
	it('is left out for an analyst without that right, who moves a date and sees what follows', async () => {
		// What was refused before is not of this.
		await p.complaints();
		await p.go(`${app.url}/setup/people`);
		await p.click('button', 'Invite somebody …');
		await (await p.find('#person-name')).sendKeys('Noor Haddad');
		await (await p.find('#person-email')).sendKeys(noor);
		await (await p.find('#person-role')).sendKeys('Analyst');
		await p.click('dialog label', 'Kelpwick Boatworks');
		await p.click('dialog button', 'Invite');
		await p.says(`[data-person="${noor}"] td`, /^Analyst$/);
		await p.signIn(app.url, noor);
		await p.go(`${app.url + STAFF}&line=pay&columns=name,end`);
		await p.says('.top b', /What single people earn is left out/);
		const lines = await lineNames();
		expect(lines).toMatch(/FTE/);
		expect(lines).not.toMatch(/Pay|Raise|Bonus|Taxes/);
		await (await p.cell('K001', 'end')).click();
		await p.keys('2027-05-31', Key.ENTER);
		await p.cellShows('K001', '2027-06', '–');
		await p.click('button', 'Save');
		await p.told(/1 change saved/);
		// Where it is posted stands what all people come to, and nobody’s part of it.
		await p.go(`${app.url}/plan?scenario=${S}&${YEAR}&department=hull-shop`);
		await (await p.cell('5100', '2027-04')).click();
		await p.keys(' ');
		await p.says('aside h3', /^What is posted here$/);
		await p.says('aside li', /^Staff, by department/);
		expect(await p.complaints()).toEqual([]);
	});
	it('is seen once somebody who sees it gives the right, and by a department’s head for nobody else', async () => {
		await p.signIn(app.url, 'maren.holt@kelpwick.example');
		await p.go(`${app.url}/setup/people`);
		await p.click(`[data-person="${noor}"] button`, /^change/);
		await p.click('dialog label', 'sees individual pay');
		await p.click('dialog button', 'Change');
		await p.says(`[data-person="${noor}"] td`, /^Analyst, sees pay$/);
		await p.signIn(app.url, noor);
		await p.go(`${app.url + STAFF}&line=pay&columns=name,annual`);
		await p.cell('K001', 'annual');
		expect(await lineNames()).toMatch(/^Pay$/m);
		await p.signIn(app.url, 'hugh.penrose@kelpwick.example');
		await p.go(`${app.url}/plan?scenario=${S}&${YEAR}`);
		await p.click('.actions a', 'Schedules');
		await p.click('main a', /^Staff/);
		await p.says('h1', /^Staff$/);
		await p.says('.top b', /Schedules are changed by analysts/);
		await p.cellShows('K090', '2027-04', '0.4');
		expect(await p.complaints()).toEqual([]);
	});
});

describe('a row that comes to read an account that nothing of its list has read before', () => {
	it('is worked out all the same before it is saved', async () => {
		await p.signIn(app.url, 'maren.holt@kelpwick.example');
		const { rows } = await p.read<{ rows: { account: string; cells: (number | null)[] }[] }>(
			`plan?scenario=${S}&department=dealer-sales&${YEAR}`
		);
		const travel = rows.find((r) => r.account === '6240')!.cells;
		await p.go(`${app.url + STAFF}&department=dealer-sales&line=commission&columns=name,commission_on`);
		await (await p.cell('K035', 'commission_on')).click();
		await p.keys('6240', Key.ENTER);
		// 2.5 % of the month before.
		const worth = Math.round(0.025 * travel[1]!);
		expect(worth).toBeGreaterThan(0);
		await p.cellShows('K035', '2027-06', String(worth));
		await p.click('button', 'Discard');
		await p.driver.wait(
			async () => (await p.cellText('K035', '2027-06')) !== String(worth),
			10_000,
			'it is not taken back'
		);
		expect(await p.complaints()).toEqual([]);
	});
});

describe('a list of more rows than come with its page', () => {
	it('is there as a whole, can be typed into at its end, and is saved', async () => {
		const client = await Client.signIn(app, 'maren.holt@kelpwick.example');
		const { list } = await client.get(`schedules/contracts?scenario=${S}&${YEAR}`);
		const [{ values }] = list;
		const changes = Array.from({ length: 250 }, (_, i) => ({
			kind: 'add',
			row: { id: `L${i + 1}`, values: { ...values, amount: 100 + i } }
		}));
		await client.post('schedules/contracts/rows', { scenario: S, changes, edits: [] });
		await p.signIn(app.url, 'maren.holt@kelpwick.example');
		const address = `${app.url}/plan/schedules/contracts?scenario=${S}&${YEAR}&columns=amount`;
		await p.go(address);
		await p.says('.together', new RegExp(`All ${list.length + 250},`));
		// The rows that are out of sight come a moment after the page.
		await p.driver.wait(
			async () => Number(await (await p.find('[role=treegrid]')).getAttribute('aria-rowcount')) > 250,
			10_000,
			'not all rows come'
		);
		await (await p.find('[data-column="amount"][role=gridcell]')).click();
		await p.chord(Key.CONTROL, Key.END);
		await p.cellShows('L250', 'amount', '349');
		const [month, was] = ['2027-06', await p.cellText('L250', '2027-06')];
		await (await p.cell('L250', 'amount')).click();
		await p.keys('698', Key.ENTER);
		await p.driver.wait(async () => (await p.cellText('L250', month)) !== was, 10_000, 'it does not follow');
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 change saved/);
		await p.cellShows('L250', 'amount', '698');
		await p.go(`${address}&at=L250&month=${month}`);
		await p.cellShows('L250', 'amount', '698');
		expect(await p.complaints()).toEqual([]);
	});
});
