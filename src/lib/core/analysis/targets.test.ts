/** Targets: on which lines they are set, and the gap to them with its sense. */
import { describe, expect, it } from 'vitest';
import type { Account } from '../company/schema';
import { buildTree } from '../company/tree';
import { gapTo, targetLines } from './targets';

const account = (code: string, parent: string | null, more: Partial<Account> = {}): Account => ({
	code,
	name: code,
	parent,
	type: 'revenue',
	rollup: 'sum',
	format: 'money',
	...more
});
const expense = { type: 'expense' } as const;

describe('lines for targets', () => {
	it('are the largest groups of one kind, and after them the results that mix them', () => {
		const lines = targetLines(
			buildTree([
				account('profit', null),
				account('gross', 'profit'),
				account('sales', 'gross'),
				account('boats', 'sales'),
				account('club', 'sales'),
				account('materials', 'gross', expense),
				account('wood', 'materials', expense),
				account('rent', 'profit', expense),
				account('cash', null, { type: 'asset', rollup: 'last' }),
				account('heads', null, { type: 'statistical', format: 'number' })
			])
		);
		expect(lines.map((l) => `${l.account}${l.spreads ? '' : ', not typed'}`)).toEqual([
			'sales',
			'materials',
			'rent',
			'profit, not typed'
		]);
	});
	it('do not spread over accounts whose months are no sum', () => {
		const lines = targetLines(
			buildTree([
				account('sales', null),
				account('boats', 'sales'),
				account('price', 'sales', { rollup: 'average' })
			])
		);
		expect(lines.map((l) => [l.account, l.spreads])).toEqual([
			['boats', true],
			['sales', false]
		]);
	});
});

describe('the gap', () => {
	it('is plan less target, and good where there is more revenue or less expense', () => {
		expect(gapTo(90, 100, 'revenue')).toEqual({ gap: -10, percent: -0.1, verdict: 'unfavourable' });
		expect(gapTo(90, 100, 'expense')).toEqual({ gap: -10, percent: -0.1, verdict: 'favourable' });
	});
	it('is nothing without a target, and all of it without a plan', () => {
		expect(gapTo(90, null, 'revenue')).toEqual({ gap: null, percent: null, verdict: 'neutral' });
		expect(gapTo(null, 100, 'revenue')).toMatchObject({ gap: -100, verdict: 'unfavourable' });
		expect(gapTo(5, 0, 'revenue')).toMatchObject({ gap: 5, percent: null, verdict: 'favourable' });
	});
	it('keeps an error as what it is', () => {
		expect(gapTo('#DIV/0', 100, 'revenue')).toMatchObject({ gap: '#DIV/0', percent: null });
	});
});
