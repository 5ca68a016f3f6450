import { describe, expect, it } from 'vitest';
import { resummed } from './chart';
import type { Account } from './schema';
import { buildTree } from './tree';

describe('accounts whose totals may be others, with the figures of leaves as they were', () => {
	const of = (code: string, parent: string | null, more: Partial<Account> = {}): Account => ({
		code,
		name: code,
		parent,
		type: 'expense',
		rollup: 'sum',
		format: 'money',
		...more
	});
	/** profit: sales, and cost of material and people; people pay wages and training. */
	const CHART = [
		of('profit', null, { type: 'revenue' }),
		of('sales', 'profit', { type: 'revenue' }),
		of('cost', 'profit'),
		of('material', 'cost'),
		of('people', 'cost'),
		of('wages', 'people'),
		of('training', 'people'),
		of('equity', null, { type: 'equity' }),
		of('differences', 'equity', { type: 'equity', translation: true }),
		of('capital', 'equity', { type: 'equity' })
	];
	const change = (code: string, what: Partial<Account>) =>
		CHART.map((a) => (a.code === code ? { ...a, ...what } : a));
	it.each<[string, Account[], string[]]>([
		['none where names are others', change('wages', { name: 'Pay', format: 'number' }), []],
		['none in another order', [...CHART].reverse(), []],
		[
			'the headings on both sides of what moves, and all above',
			change('training', { parent: 'cost' }),
			['cost', 'people', 'profit']
		],
		['the one that is left, to the top', change('people', { parent: null }), ['cost', 'profit']],
		[
			'those above what counts the other way',
			change('training', { type: 'revenue' }),
			['cost', 'people', 'profit', 'training']
		],
		[
			'a heading that counts the other way',
			change('people', { type: 'revenue' }),
			['cost', 'people', 'profit']
		],
		[
			'where translation differences stand, and stood',
			change('differences', { translation: false }).map((a) =>
				a.code === 'capital' ? { ...a, translation: true } : a
			),
			['capital', 'differences', 'equity']
		],
		['what is new, and above it', [...CHART, of('rent', 'cost')], ['cost', 'profit', 'rent']],
		['what is above one that is gone', CHART.filter((a) => a.code !== 'material'), ['cost', 'profit']]
	])('are %s', (_what, after, expected) => {
		expect([...resummed(buildTree(CHART), buildTree(after))].sort()).toEqual(expected);
	});
});
