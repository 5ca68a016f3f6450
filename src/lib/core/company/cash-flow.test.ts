/** Where accounts stand in the cash flow, said and inherited. */
import { expect, it } from 'vitest';
import { cashFlows } from './cash-flow';
import type { Account } from './schema';
import { buildTree } from './tree';

const account = (
	code: string,
	parent: string | null,
	type: Account['type'],
	cashFlow: Account['cashFlow'] = null
): Account => ({ code, name: code, parent, type, rollup: 'sum', format: 'money', cashFlow });

it('is what an account says, else its heading, else what its type is', () => {
	const flows = cashFlows(
		buildTree([
			account('profit', null, 'revenue'),
			account('sales', 'profit', 'revenue'),
			account('worn', 'profit', 'expense', 'none'),
			account('plant', 'worn', 'expense'),
			account('sold', 'worn', 'expense', 'investing'),
			account('assets', null, 'asset'),
			account('fixed', 'assets', 'asset', 'investing'),
			account('vans', 'fixed', 'asset'),
			account('bank', 'assets', 'asset', 'cash'),
			account('stock', 'assets', 'asset'),
			account('equity', null, 'equity'),
			account('capital', 'equity', 'equity')
		])
	);
	expect(Object.fromEntries(flows)).toEqual({
		profit: 'operating',
		sales: 'operating',
		worn: 'none',
		plant: 'none',
		sold: 'investing',
		assets: 'operating',
		fixed: 'investing',
		vans: 'investing',
		bank: 'cash',
		stock: 'operating',
		equity: 'financing',
		capital: 'financing'
	});
});
