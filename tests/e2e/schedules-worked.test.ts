/** The worked figures of the rules of calculation, typed into schedules from templates and read from the grid. */
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { Client, serve, type App } from '../support/app';
import { Key, Person } from '../support/browser';
import { newCompany } from '../support/new-company';

let app: App;
let p: Person;
const S = 'five-years';
const [SALARIES, CONTRIBUTIONS, BENEFITS, BONUSES] = ['6000', '6010', '6020', '6030'];

beforeAll(async () => {
	const home = mkdtempSync(join(tmpdir(), 'yardstave-'));
	const database = join(home, 'company.sqlite');
	const db = await openDatabase(database);
	const { email } = await newCompany(db, {
		company: {
			name: 'Lind',
			currency: 'GBP',
			calendar: { kind: 'months', fiscalStart: 4, dayCount: 'actual' }
		},
		chart: 'trade'
	});
	const { code: budget } = await db('scenario').where({ kind: 'budget' }).first('code');
	await db.destroy();
	app = await serve(home, database, { YARDSTAVE_AHEAD: '0' });
	const client = await Client.signIn(app, email);
	await client.post('scenarios', { from: budget, name: 'Five years', kind: 'budget', last: '2031-03' });
	for (const [name, template, accounts] of [
		['Staff', 'people', { pay: SALARIES, tax: CONTRIBUTIONS, benefits: BENEFITS, bonus_pay: BONUSES }],
		['Contracts', 'contracts', {}],
		['Assets', 'assets', { depreciation: '6800' }]
	])
		expect(
			await client.post('schedules', { scenarios: [S], name, from: { kind: 'template', template, accounts } })
		).toHaveProperty('code');
	p = await Person.open();
	await p.size(2300, 900);
	await p.signIn(app.url, email);
	await p.driver.manage().addCookie({ name: 'figures', value: 'cents' });
});
afterAll(async () => {
	await p?.close();
	await app?.stop();
});

/** Opens a schedule on a line; columns by their codes. */
async function open(
	schedule: string,
	columns: string,
	line: string,
	from: string,
	to: string,
	department = ''
) {
	const window = `scenario=${S}&department=${department}&from=${from}&to=${to}`;
	await p.go(`${app.url}/plan/schedules/${schedule}?${window}&columns=${columns}&line=${line}`);
	await p.settled();
}
/** The column that takes the whole window together. */
const lastColumn = () =>
	p.driver.executeScript(
		`return [...document.querySelectorAll('[data-row="contract-4"] [data-column]')].at(-1).dataset.column`
	) as Promise<string>;
/** What cells of a row show, month by month. */
const shown = (row: string, months: readonly string[]) =>
	Promise.all(months.map((month) => p.cellText(row, month)));
const months = (first: string, count: number) =>
	Array.from({ length: count }, (_, i) => {
		const [year, month] = first.split('-').map(Number);
		const at = year * 12 + month - 1 + i;
		return `${Math.floor(at / 12)}-${String((at % 12) + 1).padStart(2, '0')}`;
	});
/** Puts rows in by pasting them from the first column on, and saves them. */
async function put(add: string, row: string, first: string, rows: readonly (readonly string[])[]) {
	await p.click('button', add);
	await (await p.cell(row, first)).click();
	await p.paste(rows.map((cells) => cells.join('\t')).join('\n'));
	await p.chord(Key.CONTROL, 's');
	await p.told(/changes saved/);
}

describe('staff', () => {
	const COLUMNS =
		'name,department,start,end,annual,hourly,tax_rate,tax_cap,benefit,bonus,bonus_month,bonus_accrues';
	it('are put in, with a raise in July and the hours of May', async () => {
		await open('staff', COLUMNS, 'raise', '2027-04', '2027-09');
		const ada = ['Advisory', '15.2.2027', '', '84000', '', '8%', '50000', '300', '10%', '12'];
		await put('Add a person', 'person-1', 'name', [
			['Paid in December', ...ada, ''],
			['Accrued', ...ada, 'yes'],
			['By the hour', 'Advisory', '12.5.2027', '', '', '18.5'],
			['For a while', 'Advisory', '16.3.2027', '31.5.2027', '12000'],
			['Divided', ...ada, '']
		]);
		for (const row of ['person-1', 'person-2', 'person-5']) {
			await (await p.cell(row, '2027-07')).click();
			await p.keys('4%', Key.ENTER);
		}
		await p.chord(Key.CONTROL, 's');
		await p.told(/3 changes saved/);
		await open('staff', 'name', 'paid_hours', '2027-04', '2027-09');
		await (await p.cell('person-3', '2027-05')).click();
		await p.keys('160', Key.ENTER);
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 change saved/);
	});
	it('are paid by their active share, with the raise from its month on, and by paid hours', async () => {
		await open('staff', 'name', 'pay', '2027-01', '2027-12');
		expect(await shown('person-1', months('2027-01', 8))).toEqual([
			'–',
			'3,500.00',
			...Array(4).fill('7,000.00'),
			'7,280.00',
			'7,280.00'
		]);
		expect(await p.cellText('person-3', '2027-05')).toBe('1,909.68');
		expect(await shown('person-4', months('2027-02', 5))).toEqual([
			'–',
			'516.13',
			'1,000.00',
			'1,000.00',
			'–'
		]);
	});
	it('are taxed up to the cap of the calendar year', async () => {
		await open('staff', 'name', 'tax', '2027-01', '2027-12');
		expect(await shown('person-1', months('2027-02', 11))).toEqual([
			'280.00',
			...Array(4).fill('560.00'),
			'582.40',
			'582.40',
			'315.20',
			...Array(3).fill('–')
		]);
	});
	it('get a bonus on twelve months’ pay at once, or accrued until it is paid', async () => {
		await open('staff', 'name', 'bonus_pay', '2027-01', '2027-12');
		expect(await shown('person-1', ['2027-11', '2027-12'])).toEqual(['–', '7,518.00']);
		expect(await shown('person-2', ['2027-02', '2027-03', '2027-12'])).toEqual([
			'350.00',
			'700.00',
			'728.00'
		]);
		await open('staff', 'name', 'bonus_owed', '2027-01', '2027-12');
		expect(await shown('person-2', ['2027-02', '2027-11', '2027-12'])).toEqual(['350.00', '6,790.00', '–']);
	});
});

describe('a person who is divided over two departments', () => {
	it('counts 70 to 30 from April on, and is the same in all', async () => {
		await open('staff', 'name,department,shares', 'pay', '2027-01', '2027-06');
		await (await p.cell('person-5', 'shares')).click();
		await p.keys('Operations', Key.ENTER);
		await (await p.cell('person-5', 'name')).click();
		await p.chord(Key.CONTROL, 's');
		await p.told(/1 change saved/);
		await p.chord(Key.ALT, Key.ARROW_RIGHT);
		const [own, other] = ['advisory', 'operations'].map((d) => `person-5|share|${d}`);
		await (await p.cell(own, '2027-02')).click();
		await p.paste(
			['100%', '100%', '70%', '70%', '70%'].join('\t') + '\n' + ['0%', '0%', '30%', '30%', '30%'].join('\t')
		);
		await p.cellShows(other, '2027-06', '30.0 %');
		await p.chord(Key.CONTROL, 's');
		await p.told(/10 changes saved/);
		const whole = ['–', '3,500.00', ...Array(4).fill('7,000.00')];
		expect(await shown('person-5|pay', months('2027-01', 6))).toEqual(whole);
		for (const [department, pay, tax] of [
			['advisory', '4,900.00', '392.00'],
			['operations', '2,100.00', '168.00']
		]) {
			await open('staff', 'name', 'pay', '2027-01', '2027-06', department);
			expect(await shown('person-5', ['2027-04', '2027-06'])).toEqual([pay, pay]);
			await open('staff', 'name', 'tax', '2027-01', '2027-06', department);
			expect(await shown('person-5', ['2027-04', '2027-06'])).toEqual([tax, tax]);
		}
	});
});

describe('contracts', () => {
	const COLUMNS = 'what,department,account,amount,start,end,paid_how,due,renews,uplift';
	it('are put in, and say their term and the cost of a month', async () => {
		await open('contracts', COLUMNS, 'cost', '2027-02', '2027-04');
		const of = (what: string, ...more: string[]) => [what, 'Advisory', '6200', ...more];
		const long = ['18600', '1.2.2027', '31.7.2028', 'once', 'in advance'];
		const year = ['12000', '1.4.2027', '31.3.2028', 'quarterly'];
		await put('Add a contract', 'contract-1', 'what', [
			of('Ends', ...long, 'no', ''),
			of('Renews', ...long, 'yes', ''),
			of('Renews dearer', ...long, 'yes', '3%'),
			of('Broken months', '9600', '16.3.2027', '15.3.2028', 'once', 'in advance', 'no', ''),
			of('Quarters ahead', ...year, 'in advance', 'no', ''),
			of('Quarters behind', ...year, 'in arrears', 'no', '')
		]);
		await open('contracts', 'what,term,monthly', 'cost', '2027-02', '2027-04');
		expect(await shown('contract-1', ['term', 'monthly'])).toEqual(['18', '1,033.33']);
		expect(await shown('contract-4', ['term', 'monthly'])).toEqual(['12', '800.00']);
	});
	it('end with their term, or go on, dearer by their uplift from each renewal', async () => {
		await open('contracts', 'what', 'cost', '2028-07', '2028-08');
		const around = ['2028-07', '2028-08'];
		expect(await shown('contract-1', around)).toEqual(['1,033.33', '–']);
		expect(await shown('contract-2', around)).toEqual(['1,033.33', '1,033.33']);
		expect(await shown('contract-3', around)).toEqual(['1,033.33', '1,064.33']);
		await open('contracts', 'what', 'cost', '2030-01', '2030-02');
		expect(await shown('contract-3', ['2030-01', '2030-02'])).toEqual(['1,064.33', '1,096.26']);
	});
	it('are divided by days in broken months, and cost their amount over their life', async () => {
		await open('contracts', 'what', 'cost', '2027-02', '2028-04');
		expect(await shown('contract-4', ['2027-03', '2028-03'])).toEqual(['412.90', '387.10']);
		const total = await p.cellText('contract-4', await lastColumn());
		expect(total).toBe('9,600.00');
	});
	it('stand prepaid or accrued where they are paid quarter by quarter', async () => {
		const first = months('2027-04', 3);
		for (const [line, ahead, behind] of [
			['paid', ['3,000.00', '–', '–'], ['–', '–', '3,000.00']],
			['prepaid', ['2,000.00', '1,000.00', '–'], ['–', '–', '–']],
			['accrued', ['–', '–', '–'], ['1,000.00', '2,000.00', '–']]
		] as const) {
			await open('contracts', 'what', line, '2027-04', '2027-06');
			expect([await shown('contract-5', first), await shown('contract-6', first)]).toEqual([ahead, behind]);
		}
	});
});

describe('assets', () => {
	const COLUMNS = 'what,department,cost,salvage,life,in_service,method,begins,books_at,books,sold,proceeds';
	it('are put in, and worn evenly over a life that is then made a month longer', async () => {
		await open('assets', COLUMNS, 'depreciation', '2028-03', '2028-06');
		const of = (what: string, ...more: string[]) => [what, 'Advisory', ...more];
		await put('Add an asset', 'asset-1', 'what', [
			of('Even', '9000', '0', '24', '10.5.2026', 'straight-line', 'same-month'),
			of('Digits', '33000', '3000', '60', '1.5.2026', 'sum-of-years', 'same-month'),
			of('Declining', '10000', '1000', '60', '1.5.2026', 'declining', 'same-month'),
			of('Halves', '9000', '0', '24', '1.5.2026', 'straight-line', 'half-month'),
			of(
				'Books differ',
				'20000',
				'2000',
				'60',
				'1.1.2025',
				'straight-line',
				'same-month',
				'31.10.2026',
				'9000'
			),
			of('Sold', '12000', '0', '48', '1.1.2026', 'straight-line', 'same-month', '', '', '30.6.2027', '8000')
		]);
		const last = ['2028-04', '2028-05', '2028-06'];
		expect(await shown('asset-1', last)).toEqual(['375.00', '–', '–']);
		await (await p.cell('asset-1', 'life')).click();
		await p.keys('25', Key.ENTER);
		await p.cellShows('asset-1', '2028-05', '360.00');
		expect(await shown('asset-1', last)).toEqual(['360.00', '360.00', '–']);
		expect(await shown('asset-4', last)).toEqual(['375.00', '187.50', '–']);
	});
	it('are worn by digits of years, by declining balance, and by what books leave', async () => {
		const years = ['2026-05', '2027-05', '2028-05', '2029-05', '2030-05'];
		const found: string[][] = [[], []];
		for (const year of years) {
			await open('assets', 'what', 'depreciation', year, year);
			for (const [i, row] of ['asset-2', 'asset-3'].entries()) found[i].push(await p.cellText(row, year));
		}
		// 10,000, 8,000, 6,000, 4,000 and 2,000 a year; 4,000, 2,400, 1,440, 864 and 296.
		expect(found).toEqual([
			['833.33', '666.67', '500.00', '333.33', '166.67'],
			['333.33', '200.00', '120.00', '72.00', '24.67']
		]);
		await open('assets', 'what', 'depreciation', '2026-11', '2026-12');
		expect(await p.cellText('asset-5', '2026-11')).toBe('236.84');
		await open('assets', 'what', 'depreciation', '2029-12', '2030-01');
		expect(await shown('asset-5', ['2029-12', '2030-01'])).toEqual(['236.84', '–']);
	});
	it('that are sold leave with what they were worn, and the rest is a gain', async () => {
		await open('assets', 'what', 'gain', '2027-05', '2027-07');
		await (await p.cell('asset-6', 'what')).click();
		await p.chord(Key.ALT, Key.ARROW_RIGHT);
		await p.find('[data-row="asset-6|gain"]');
		const june = (line: string) => p.cellText(`asset-6|${line}`, '2027-06');
		expect(
			await Promise.all(['depreciation', 'released', 'gain', 'book_value', 'disposals'].map(june))
		).toEqual(['250.00', '4,500.00', '500.00', '–', '12,000.00']);
		expect(await p.cellText('asset-6|book_value', '2027-05')).toBe('7,750.00');
	});
});
