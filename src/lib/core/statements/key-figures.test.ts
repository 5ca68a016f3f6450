import { describe, expect, it } from 'vitest';
import type { AccountType } from '../company/schema';
import {
	cashRelevant,
	nonCashParts,
	resultAccount,
	resultGroups,
	revenueAccount,
	statementGroups,
	type KeyAccount
} from './key-figures';

const account = (
	depth: number,
	code: string,
	type: AccountType,
	leaf: boolean,
	nonCash = false
): KeyAccount => ({
	code,
	name: code,
	depth,
	type,
	leaf,
	nonCash
});
const CHART = [
	account(0, 'profit', 'revenue', false),
	account(1, 'gross', 'revenue', false),
	account(2, 'revenue', 'revenue', false),
	account(3, 'boats', 'revenue', true),
	account(3, 'gains', 'revenue', true, true),
	account(2, 'materials', 'expense', true),
	account(1, 'running', 'expense', false),
	account(2, 'rent', 'expense', true),
	account(2, 'depreciation', 'expense', false, true),
	account(3, 'plant', 'expense', true, true),
	account(3, 'vans', 'expense', true, true),
	account(0, 'statistics', 'statistical', false),
	account(1, 'units', 'statistical', true, true)
];
const codes = (list: readonly KeyAccount[]) => list.map((a) => a.code);

describe('the chart', () => {
	it('says which account is the result, which the revenue, and which groups are results', () => {
		expect(resultAccount(CHART)?.code).toBe('profit');
		expect(revenueAccount(CHART)?.code).toBe('revenue');
		expect(codes(resultGroups(CHART))).toEqual(['profit', 'gross']);
		expect(resultAccount(CHART.slice(11))).toBeUndefined();
	});
	it('lists groups as a statement does, parts before their totals', () => {
		expect(codes(statementGroups(CHART, 4))).toEqual([
			'revenue',
			'gross',
			'depreciation',
			'running',
			'profit'
		]);
		expect(codes(statementGroups(CHART, 2))).toEqual(['gross', 'running', 'profit']);
	});
});

describe('the cash-relevant result', () => {
	it('is the result with depreciation added back and gains that were never received taken out', () => {
		const parts = nonCashParts(CHART);
		expect(parts.map((p) => [p.account.code, p.sign])).toEqual([
			['gains', 1],
			['depreciation', -1]
		]);
		// 1000 + 50 − 400 − 120 − 80 of depreciation = 450 of profit; 480 of it is cash.
		expect(cashRelevant(450, parts, [50, 80])).toBe(480);
	});
	it('takes out one by one what is never paid, where a heading of it holds what is paid too', () => {
		const sold = CHART.map((a) => (a.code === 'plant' ? { ...a, nonCash: false } : a));
		expect(nonCashParts(sold).map((p) => p.account.code)).toEqual(['gains', 'vans']);
	});
	it('is the result itself where everything is paid', () => {
		const paid = CHART.map((a) => ({ ...a, nonCash: false }));
		expect(nonCashParts(paid)).toEqual([]);
		expect(cashRelevant(450, [], [])).toBe(450);
	});
});
