/** Kelpwick's driver models. */
import { ModelDefinition, type Line } from '../src/lib/core/blocks/driver-model/schema';

type LineInput = Partial<Line> & Pick<Line, 'code' | 'label'>;
const typed = (code: string, label: string, unit: string, more: Partial<Line> = {}): LineInput => ({
	code,
	label,
	unit,
	...more
});
const formula = (
	code: string,
	label: string,
	unit: string,
	text: string,
	more: Partial<Line> = {}
): LineInput => ({
	code,
	label,
	unit,
	formula: text,
	...more
});
const level = { rollup: { time: 'average' as const, members: 'average' as const } };
const weighted = (by: string) => ({ rollup: { time: 'formula' as const, members: `weighted:${by}` } });

export const assumptions = ModelDefinition.parse({
	code: 'assumptions',
	name: 'Assumptions',
	description: 'What holds for the whole company: price rises and inflation, month by month.',
	lines: [
		typed('price_rise', 'Price rise', 'in the month', {
			format: 'percent',
			closed: 'keep',
			extend: 'year-ago',
			...level
		}),
		formula(
			'price_index',
			'Price index',
			'April 2026 = 1',
			'if(is_blank(opening(price_index)), 1, opening(price_index)) * (1 + price_rise)',
			{
				format: 'price',
				closed: 'keep',
				...level
			}
		),
		typed('material_inflation', 'Material inflation', 'in the month', {
			format: 'percent',
			closed: 'keep',
			extend: 'last',
			...level
		}),
		formula(
			'material_index',
			'Material index',
			'April 2026 = 1',
			'if(is_blank(opening(material_index)), 1, opening(material_index)) * (1 + material_inflation)',
			{ format: 'price', closed: 'keep', ...level }
		)
	]
});

export const boatSales = ModelDefinition.parse({
	code: 'boat_sales',
	name: 'Boat sales',
	description:
		'Units times price by product, channel and region; revenue and material go to the selling department.',
	dimensions: ['product', 'channel', 'region'],
	lines: [
		typed('units', 'Units', 'pieces', { extend: 'year-ago', closed: 'actuals' }),
		typed('list_price', 'List price', 'GBP each, April 2026', {
			format: 'price',
			closed: 'keep',
			extend: 'last',
			...weighted('units')
		}),
		typed('discount', 'Discount', 'of list price', {
			format: 'percent',
			closed: 'keep',
			extend: 'last',
			...weighted('units')
		}),
		formula('price', 'Net price', 'GBP each', 'list_price * assumptions.price_index * (1 - discount)', {
			format: 'price',
			actual: 'ratio(revenue, units)',
			...weighted('units')
		}),
		formula('revenue', 'Revenue', 'GBP', 'units * price', { format: 'money', closed: 'actuals' }),
		typed('unit_material', 'Material', 'GBP each, April 2026', {
			format: 'price',
			closed: 'keep',
			extend: 'last',
			...weighted('units')
		}),
		formula('material', 'Material cost', 'GBP', 'units * unit_material * assumptions.material_index', {
			format: 'money',
			closed: 'actuals'
		}),
		formula('margin', 'Margin after material', 'GBP', 'revenue - material', {
			format: 'money',
			closed: 'keep'
		}),
		formula('margin_share', 'Margin', 'of revenue', 'ratio(margin, revenue)', {
			format: 'percent',
			closed: 'keep',
			rollup: { time: 'formula', members: 'formula' }
		})
	],
	postings: [
		{
			line: 'revenue',
			account: { attribute: 'product.revenue_account' },
			department: { code: 'baltic-sales' },
			where: { region: 'baltic' }
		},
		{
			line: 'revenue',
			account: { attribute: 'product.revenue_account' },
			department: { attribute: 'channel.department' }
		},
		{
			line: 'material',
			account: { attribute: 'product.material_account' },
			department: { code: 'baltic-sales' },
			where: { region: 'baltic' }
		},
		{
			line: 'material',
			account: { attribute: 'product.material_account' },
			department: { attribute: 'channel.department' }
		},
		{
			line: 'units',
			account: { code: '9000' },
			department: { code: 'baltic-sales' },
			where: { region: 'baltic' }
		},
		{ line: 'units', account: { code: '9000' }, department: { attribute: 'channel.department' } }
	]
});

export const club = ModelDefinition.parse({
	code: 'harbour_club',
	name: 'Harbour Club',
	description: 'Members at the end of each month, from those who join and leave, and what they pay.',
	lines: [
		typed('joiners', 'Joiners', 'people', { extend: 'year-ago' }),
		typed('leaving_share', 'Leaving', 'of members', {
			format: 'percent',
			closed: 'keep',
			extend: 'last',
			...level
		}),
		formula('members', 'Members', 'people', 'lag(account("9010"), 1) * (1 - leaving_share) + joiners', {
			rollup: { time: 'last', members: 'sum' }
		}),
		typed('monthly_fee', 'Monthly fee', 'GBP, April 2026', {
			format: 'price',
			closed: 'keep',
			extend: 'last',
			...level
		}),
		formula('fees', 'Memberships', 'GBP', 'members * monthly_fee * assumptions.price_index', {
			format: 'money'
		})
	],
	postings: [
		{ line: 'members', account: { code: '9010' }, department: { code: 'harbour-club' } },
		{ line: 'fees', account: { code: '4100' }, department: { code: 'harbour-club' } }
	]
});

export const visits = ModelDefinition.parse({
	code: 'dealer_visits',
	name: 'Dealer visits',
	description:
		'Visits follow orders: units by order size and close rate, for the share of orders that need one.',
	dimensions: ['region'],
	lines: [
		formula('units', 'Units sold', 'pieces', 'boat_sales.units'),
		typed('order_size', 'Order size', 'pieces', {
			format: 'number',
			closed: 'keep',
			extend: 'last',
			...level
		}),
		typed('close_rate', 'Close rate', 'of visits', {
			format: 'percent',
			closed: 'keep',
			extend: 'last',
			...level
		}),
		typed('visit_share', 'Orders that need a visit', 'share', {
			format: 'percent',
			closed: 'keep',
			extend: 'last',
			...level
		}),
		formula('visits', 'Visits', 'visits', 'ratio(units, order_size) / close_rate * visit_share'),
		typed('cost_per_visit', 'Cost of a visit', 'GBP', {
			format: 'price',
			closed: 'keep',
			extend: 'last',
			...level
		}),
		formula('travel', 'Travel to dealers', 'GBP', 'visits * cost_per_visit', { format: 'money' })
	],
	postings: [
		{
			line: 'travel',
			account: { code: '6250' },
			department: { code: 'baltic-sales' },
			where: { region: 'baltic' }
		},
		{ line: 'travel', account: { code: '6250' }, department: { code: 'dealer-sales' } }
	]
});

const table = (code: string, name: string, dimension: string, description: string, ...lines: LineInput[]) =>
	ModelDefinition.parse({
		code,
		name,
		description,
		dimensions: [dimension],
		lines: lines.map((line) => ({ closed: 'keep', extend: 'last', ...line, ...level }))
	});

export const payRises = table(
	'pay_rises',
	'Pay rises',
	'staff_group',
	'What pay rises by in a month, for all of a group who have no rise of their own.',
	typed('general', 'General rise', 'in the month', { format: 'percent', extend: 'year-ago' })
);

export const taxes = table(
	'taxes',
	'Taxes and contributions',
	'tax_region',
	'What employers pay on top of pay, by region.',
	typed('rate', 'Rate', 'of pay', { format: 'percent' }),
	typed('cap', 'Pay a year that counts', '', { format: 'number' })
);

export const benefitPlans = table(
	'benefit_plans',
	'Benefits',
	'benefit_plan',
	'What benefits cost, by plan.',
	typed('share', 'Of pay', 'of pay', { format: 'percent' }),
	typed('cost', 'For one person a month', '', { format: 'price' })
);
