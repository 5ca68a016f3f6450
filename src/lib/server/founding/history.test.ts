import fc from 'fast-check';
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { calendarOf } from '../../core/calendar/calendar-of';
import { readCompany, readStored, writeCompany } from '../company/subjects';
import { companyState } from '../company/structure';
import { check } from '../platform/check';
import { openDatabase } from '../platform/db/connect';
import { planOf } from '../scenarios/plans';
import { Refusal } from '../platform/refusal';
import { today } from '../platform/settings';
import { foundCompany, founded, Founding, HistoryAsked, lookAtHistory } from './found';

const WEEKS = { kind: 'weeks', grouping: '4-4-5', fiscalStart: 9, endsOn: 6, rule: 'nearest' } as const;
const TRIAL_BALANCE = [
	'Account;Name;Debit;Credit',
	'1020;Bank;40 100,00;',
	'2800;Share capital;;20 000,00',
	'3400;Fees, time and materials;;100 000,00',
	'5000;Wages;70 000,01;',
	'6000;Office rent;9 899,99;',
	'Total;;120 000,00;120 000,00'
].join('\n');
const history = { content: TRIAL_BALANCE, through: '2025-P12' };
const answers = {
	person: { name: 'Ada Lind', email: 'ada@lind.example', password: 'long enough' },
	company: { name: 'Lind', currency: 'CHF', calendar: WEEKS },
	chart: 'services',
	departments: 'Advisory\nOperations',
	year: 2026
};
const asked = { chart: answers.chart, departments: answers.departments };
const look = (change: object = {}, calendar: object = WEEKS) =>
	lookAtHistory(check({ ...asked, calendar, history: { ...history, ...change } }, HistoryAsked));
const read = (change: object = {}) => check({ ...answers, history: { ...history, ...change } }, Founding);
const faultsOf = (work: () => unknown) => {
	try {
		work();
	} catch (e) {
		return (e as Refusal).faults;
	}
	return [];
};

describe('a trial balance', () => {
	it('may have a title above its headings, and whatever stands between cells', () => {
		const titled = ['Lind & Partner, trial balance, CHF', '', TRIAL_BALANCE].join('\n');
		expect(look({ content: titled })).toEqual(look());
		const [row] = look({ content: titled.replace('40 100,00', 'much') }).faults;
		expect(row).toMatchObject({ row: 4, column: 'Debit' });
	});
	it('is shown with each account’s place, and both sides', () => {
		const { accounts, ...rest } = look();
		expect(accounts.map((a) => [a.code, a.name, a.amount, a.place, a.reason])).toEqual([
			['1020', 'Bank', 40100, 'current:asset', 'name'],
			['2800', 'Share capital', -20000, 'equity:equity', 'name'],
			['3400', 'Fees, time and materials', -100000, 'revenue:revenue', 'name'],
			['5000', 'Wages', 70000.01, 'people:expense', 'name'],
			['6000', 'Office rent', 9899.99, 'premises:expense', 'name']
		]);
		expect(rest).toMatchObject({
			kind: 'balance',
			leftOut: 1,
			faultCount: 0,
			debits: 120000,
			credits: 120000,
			rows: 5,
			decimal: ',',
			doubtful: null
		});
		expect(rest.covers).toMatch(/ to .*12/);
	});
	it('may balance or not, and have its codes and names in one column', () => {
		const { accounts, debits, credits } = look({
			content: 'Account\tBalance\n1020 - Bank\t1,250.50\n3400: Fees\t-1,000.00'
		});
		expect(accounts.map((a) => [a.code, a.name, a.amount])).toEqual([
			['1020', 'Bank', 1250.5],
			['3400', 'Fees', -1000]
		]);
		expect([debits, credits]).toEqual([1250.5, 1000]);
	});
	it('says that a sign can be read in two ways, and reads it as it is told', () => {
		const content = 'Account;Balance\n1020;1,250';
		expect(look({ content })).toMatchObject({ doubtful: '1,250', decimal: '.', debits: 1250 });
		expect(look({ content, decimal: ',' })).toMatchObject({ decimal: ',', debits: 1.25 });
	});
	it.each([
		['a table without accounts', 'Text,Balance\nnothing,1', { row: 1, message: /“ledger account”/ }],
		['an amount that is none', 'Account,Balance\n1020,much', { row: 2, column: 'Balance' }],
		['an account that is none', 'Account,Balance\n§ 12,1', { row: 2, column: 'Account' }],
		[
			'a department that is not there',
			'Account,Balance,Department\n1020,1,Nowhere',
			{ row: 2, column: 'Department' }
		]
	])('has its faults said at their rows: %s', (_name, content, { row, ...said }) => {
		expect(look({ content }).faults).toEqual([
			expect.objectContaining({ row, ...('column' in said && { column: said.column }) })
		]);
		expect(faultsOf(() => founded(read({ content })))).toHaveLength(1);
	});
	it('is refused for a period that has not ended, and a department that takes no figures', () => {
		expect(faultsOf(() => look({ through: '2099-P01' }))[0]).toMatchObject({ column: 'through' });
		expect(faultsOf(() => look({ through: 'soon' }))[0]).toMatchObject({ column: 'through' });
		expect(faultsOf(() => look({ department: 'lind' }))[0]).toMatchObject({ column: 'department' });
	});
});

describe('a company that begins with last year', () => {
	let db: Knex;
	beforeEach(async () => {
		db = await openDatabase(':memory:');
	});
	afterEach(() => db.destroy());
	const { yearStart } = calendarOf(WEEKS);
	const actual = async (account: string, period: number, row: string) => {
		const { actuals, structure } = await companyState(db);
		const matrix = actuals.accounts.get(account)!;
		return matrix.values[(period - actuals.first) * matrix.rows + structure.departmentRow.get(row)!];
	};

	it('has its own accounts one to one, flows in equal parts that tie, balances at the end', async () => {
		const { department } = await foundCompany(db, read());
		expect(department).toBe('not-divided');
		const first = yearStart(2025);
		const state = await companyState(db);
		expect(state.closedThrough).toBe(first + 11);
		expect(state.ledgerAccounts.map((l) => [l.code, l.account])).toEqual(
			['1020', '2800', '3400', '5000', '6000'].map((code) => [code, code])
		);
		const wages = await Promise.all(
			Array.from({ length: 12 }, (_, i) => actual('5000', first + i, 'not-divided'))
		);
		// 70,000.01 over twelve: the cents that are left go to the first.
		expect(wages).toEqual([...Array<number>(5).fill(5833.34), ...Array<number>(7).fill(5833.33)]);
		expect(await actual('3400', first, 'not-divided')).toBe(8333.33);
		expect(await actual('1020', first + 11, 'not-divided')).toBe(40100);
		expect(await actual('1020', first + 10, 'not-divided')).toBe(0);
		expect(await actual('2800', first + 11, 'not-divided')).toBe(20000);
		// It is a company like any other.
		const files = writeCompany(await readStored(db));
		expect(writeCompany(readCompany(files))).toEqual(files);
		expect(files.get('ledger/2025-P12.csv')).toContain('1020,not-divided,40100,Trial balance,,Bank');
	});
	it('has a budget that begins with last year where it is asked for, and is empty else', async () => {
		expect(founded(read()).scenarios[0].bases).toEqual([]);
		await foundCompany(db, check({ ...answers, history, begins: 'last-year' }, Founding));
		const { calculation, scenario } = await planOf(db, 'fy26-budget');
		const { structure } = await companyState(db);
		const row = structure.departmentRow.get('not-divided')!;
		let sum = 0;
		for (let p = scenario.first; p <= scenario.last; p++)
			sum += Number(calculation.cell('accounts', '5000', row, p));
		expect(sum).toBeCloseTo(70000.01, 6);
	});
	it('stands where it is told: in a chosen department, in those of the file, under another heading', async () => {
		expect(founded(read({ department: 'operations' })).departments.map((d) => d.code)).toEqual([
			'lind',
			'advisory',
			'operations'
		]);
		const { entries, accounts } = founded(
			read({
				content: 'Account,Balance,Department\n5000,12,Advisory\n5000,24,operations',
				places: { '5000': 'running:expense', nowhere: 'people:expense' }
			})
		);
		const sum = (department: string) =>
			entries.filter((e) => e.department === department).reduce((s, e) => s + e.amount, 0);
		expect([sum('advisory'), sum('operations')]).toEqual([12, 24]);
		expect(accounts.find((a) => a.code === '5000')).toMatchObject({ parent: 'running', type: 'expense' });
		// A place that the chart does not have is not taken.
		expect(
			founded(read({ places: { '5000': 'nowhere:expense' } })).accounts.find((a) => a.code === '5000')
		).toMatchObject({ parent: 'people' });
	});
	it('takes ledger entries at their dates, and leaves the running period open', async () => {
		const now = calendarOf(WEEKS).periodOf(today())!;
		const day = (p: number) => calendarOf(WEEKS).firstDay(p);
		const rows = [
			[now - 2, 1],
			[now - 1, 2],
			[now, 4]
		].map(([p, amount]) => `${day(p)},5000,Operations,${amount},Wages`);
		const { entries, closedThrough } = founded(
			read({ content: ['Date,Account,Department,Amount,Account name', ...rows].join('\n') })
		);
		expect(entries.map((e) => [e.period, e.date, e.amount])).toEqual([
			[now - 2, day(now - 2), 1],
			[now - 1, day(now - 1), 2],
			[now, day(now), 4]
		]);
		expect(closedThrough).toBe(now - 1);
	});
	it('loses no cent, whatever stands in the file', () => {
		const amounts = fc.array(fc.integer({ min: -1e9, max: 1e9 }), { minLength: 1, maxLength: 12 });
		fc.assert(
			fc.property(amounts, (list) => {
				const content = ['Account,Balance', ...list.map((v, i) => `${1000 + i * 500},${v / 100}`)].join('\n');
				const { entries } = founded(read({ content }));
				for (const [i, v] of list.entries()) {
					const own = entries.filter((e) => e.ledgerAccount === String(1000 + i * 500));
					expect(own.reduce((s, e) => s + Math.round(e.amount * 100), 0)).toBe(v);
				}
			}),
			{ numRuns: 25 }
		);
	});
});
