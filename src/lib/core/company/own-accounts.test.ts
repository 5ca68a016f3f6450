import { describe, expect, it } from 'vitest';
import { chartFaults } from './chart';
import { layAccounts, ownChart, placesOf, type LedgerLine } from './own-accounts';
import type { Account, AccountType } from './schema';

const account = (
	code: string,
	name: string,
	parent: string | null,
	type: AccountType,
	more: Partial<Account> = {}
): Account => ({ code, name, parent, type, rollup: 'sum', format: 'money', ...more });

const CHART = [
	account('profit', 'Profit', null, 'revenue'),
	account('revenue', 'Revenue', 'profit', 'revenue'),
	account('4000', 'Fees', 'revenue', 'revenue'),
	account('people', 'People', 'profit', 'expense'),
	account('6000', 'Salaries', 'people', 'expense'),
	account('worn', 'Depreciation', 'profit', 'expense', { cashFlow: 'none' }),
	account('6800', 'Depreciation of equipment', 'worn', 'expense', { cashFlow: 'none' }),
	account('financial', 'Financial result', 'profit', 'revenue'),
	account('7000', 'Interest received', 'financial', 'revenue'),
	account('7100', 'Interest paid', 'financial', 'expense'),
	account('assets', 'Assets', null, 'asset', { rollup: 'last' }),
	account('1400', 'Cash and bank', 'assets', 'asset', { rollup: 'last' }),
	account('counts', 'Statistics', null, 'statistical'),
	account('9000', 'Headcount', 'counts', 'statistical', { rollup: 'last', format: 'number' })
];
const line = (code: string, name: string, amount: number): LedgerLine => ({ code, name, amount });
const laid = (...lines: LedgerLine[]) =>
	layAccounts(CHART, lines).map(({ code, place, reason }) => [code, place, reason]);

describe('where ledger accounts lie in a chart', () => {
	it('are its headings, once for income and once for cost where a heading has both', () => {
		expect(placesOf(CHART).map((p) => p.label)).toEqual([
			'Revenue',
			'People',
			'Depreciation',
			'Financial result, income',
			'Financial result, cost',
			'Assets'
		]);
	});
	it('goes by names, in other words and numbers too; of two alike by the sign', () => {
		expect(
			laid(
				line('5000', 'Wages', 90),
				line('5010', 'Bank', 5),
				line('8000', 'Interest', -3),
				line('8001', 'Interest', 3)
			)
		).toEqual([
			['5000', 'people:expense', 'name'],
			['5010', 'assets:asset', 'name'],
			['8000', 'financial:revenue', 'name'],
			['8001', 'financial:expense', 'name']
		]);
	});
	it('goes against the sign for balances alone, and there by a name that is much alike', () => {
		expect(
			laid(
				line('1', 'Salaries', -90),
				line('2', 'Cash and bank', -5),
				line('3', 'Bank of the north', -5),
				line('4', 'Wages', 1)
			)
		).toEqual([
			// By their numbers.
			['1', 'assets:asset', 'number'],
			['2', 'assets:asset', 'name'],
			['3', 'assets:asset', 'number'],
			['4', 'people:expense', 'name']
		]);
	});
	it('is corrected by those around it: what lies among costs is no balance', () => {
		const around = ['Wages', 'Salaries', 'Salary', 'Depreciation', 'Wages'].map((name, i) =>
			line(String(5000 + i), name, 1)
		);
		const place = (amount: number) => laid(...around, line('5002.5', 'Bank', amount)).at(-1);
		expect(laid(line('5002.5', 'Bank', 1))).toEqual([['5002.5', 'assets:asset', 'name']]);
		expect(place(1)).toEqual(['5002.5', 'people:expense', 'number']);
	});
	it('goes by the nearest number where the name says nothing, and by the sign where there is none', () => {
		expect(
			laid(
				line('5000', 'Wages', 90),
				line('5040', 'Zzz', 5),
				line('8000', 'Interest paid', 3),
				line('7990', 'Yyy', -1)
			)
		).toEqual([
			['5000', 'people:expense', 'name'],
			['5040', 'people:expense', 'number'],
			['8000', 'financial:expense', 'name'],
			// Beside it by number, and income by its sign.
			['7990', 'financial:revenue', 'number']
		]);
		expect(laid(line('A', 'Zzz', -1), line('B', 'Yyy', 1))).toEqual([
			['A', 'revenue:revenue', 'sign'],
			['B', 'people:expense', 'sign']
		]);
	});
});

describe('a chart of one’s own', () => {
	const own = (lines: [code: string, name: string, place: string][]) =>
		ownChart(
			CHART,
			lines.map(([code, name, place]) => ({ code, name, amount: 1, place, reason: 'name' as const }))
		);

	it('holds own accounts in the place of the chart’s, where a heading has any', () => {
		const { accounts, accountOf } = own([
			['3000', 'Consulting', 'revenue:revenue'],
			['3100', 'Training', 'revenue:revenue'],
			['1020', 'Bank', 'assets:asset']
		]);
		expect(accounts.map((a) => a.code)).toEqual([
			'profit',
			'revenue',
			'3000',
			'3100',
			'people',
			'6000',
			'worn',
			'6800',
			'financial',
			'7000',
			'7100',
			'assets',
			'1020',
			'counts',
			'9000'
		]);
		expect(accounts.find((a) => a.code === '1020')).toEqual(
			account('1020', 'Bank', 'assets', 'asset', { rollup: 'last' })
		);
		expect([...accountOf]).toEqual([
			['3000', '3000'],
			['3100', '3100'],
			['1020', '1020']
		]);
		expect(chartFaults(accounts)).toEqual([]);
	});
	it('takes a code from the chart where it is the ledger’s, and another where it is a heading’s or a statistic’s', () => {
		const { accounts, accountOf } = own([
			['6000', 'Consulting', 'revenue:revenue'],
			['9000', 'Training', 'revenue:revenue'],
			['people', 'Other', 'revenue:revenue']
		]);
		expect(accounts.filter((a) => a.parent === 'revenue').map((a) => a.code)).toEqual([
			'6000',
			'9000-training',
			'people'
		]);
		// The heading that held nothing else has gone with its only account.
		expect(accounts.filter((a) => a.code === 'people')).toHaveLength(1);
		expect(accountOf.get('9000')).toBe('9000-training');
		expect(chartFaults(accounts)).toEqual([]);
	});
	it('knows what is never paid', () => {
		const { accounts } = own([
			['81', 'Depreciation', 'worn:expense'],
			['82', 'Depreciation', 'people:expense']
		]);
		const flow = (code: string) => accounts.find((a) => a.code === code)!.cashFlow;
		expect([flow('81'), flow('82')]).toEqual(['none', undefined]);
	});
	it('refuses a place that the chart does not have', () => {
		expect(() => own([['1', 'A', 'none:asset']])).toThrow(/no heading/);
	});
});
