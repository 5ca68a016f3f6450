import { expect, it } from 'vitest';
import { account } from '../../../../tests/support/budget';
import { ModelDefinition } from '../blocks/driver-model/schema';
import { monthCalendar } from '../calendar/calendar';
import { buildStructure } from '../company/structure';
import { Exchange } from '../currency/exchange';
import { derivedSeries } from './derive';

it('brings what is booked in a department’s currency to the line’s, each month at its own rate, wherever it begins', () => {
	const calendar = monthCalendar(1);
	const jan = calendar.parse('2027-01')!;
	const structure = buildStructure(
		calendar,
		[account('sales', 'revenue', null)],
		[
			{ code: 'all', name: 'All', parent: null, entity: 'ltd' },
			{ code: 'home', name: 'Home', parent: 'all', entity: 'ltd' },
			{ code: 'abroad', name: 'Abroad', parent: 'all', entity: 'oy' }
		],
		[],
		'GBP',
		[
			{ code: 'ltd', name: 'Ltd', currency: 'GBP' },
			{ code: 'oy', name: 'Oy', currency: 'EUR' }
		]
	);
	const definition = ModelDefinition.parse({
		code: 'selling',
		name: 'Selling',
		dimensions: ['department'],
		lines: [{ code: 'amount', label: 'Amount', unit: 'GBP', closed: 'actuals' }],
		postings: [{ line: 'amount', account: { code: 'sales' }, department: { attribute: 'department.code' } }]
	});
	const rates = { first: jan, values: Float64Array.of(2, 3, 4) };
	const exchange = new Exchange('GBP', [{ currency: 'EUR', average: rates, closing: rates }], calendar);
	const booked = (department: string, first: number, ...values: number[]) => ({
		account: 'sales',
		members: { department },
		first,
		values: Float64Array.from(values)
	});
	const found = derivedSeries(
		[{ definition, rows: [['home'], ['abroad']] }],
		structure,
		[booked('home', jan, 5, 5, 5, 5), booked('abroad', jan + 1, 10, 20, 30)],
		jan + 3,
		exchange
	);
	expect(found.map((s) => [s.row, s.first - jan, [...s.values]])).toEqual([
		['home', 0, [5, 5, 5, 5]],
		// No rate is known of the last month, so it is no amount.
		['abroad', 1, [30, 80, Infinity]]
	]);
});
