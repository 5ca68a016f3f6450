/** Ready-made beginnings of driver models. All of a template can be changed afterwards. */
import { Line } from './schema';

export interface ModelTemplate {
	code: string;
	name: string;
	description: string;
	/** Whether it is usual to have it by dimensions. */
	byDimensions: boolean;
	lines: Line[];
}

type Given = Partial<Line> & Pick<Line, 'code' | 'label'>;
const lines = (...list: Given[]): Line[] => list.map((l) => Line.parse(l));

const level = { time: 'average', members: 'average' } as const;
const share = (code: string, label: string, unit: string): Given => ({
	code,
	label,
	unit,
	format: 'percent',
	closed: 'keep',
	extend: 'last',
	rollup: level
});
const price = (code: string, label: string, unit: string, weight?: string): Given => ({
	code,
	label,
	unit,
	format: 'price',
	closed: 'keep',
	extend: 'last',
	rollup: weight ? { time: 'formula', members: `weighted:${weight}` } : level
});

/** A template's lines with the company's own currency (ISO 4217) in their units. */
export const linesOf = ({ lines }: ModelTemplate, currency: string): Line[] =>
	lines.map((l) => ({ ...l, unit: l.unit.replace('CURRENCY', currency) }));

export const MODEL_TEMPLATES: readonly ModelTemplate[] = [
	{
		code: 'assumptions',
		name: 'Rates and prices',
		description: 'What holds for the whole company, month by month: a rate that grows into an index.',
		byDimensions: false,
		lines: lines(
			share('inflation', 'Inflation', 'in the month'),
			{
				code: 'price_index',
				label: 'Price index',
				format: 'price',
				closed: 'keep',
				rollup: level,
				formula: 'if(is_blank(opening(price_index)), 1, opening(price_index)) * (1 + inflation)'
			},
			{
				code: 'working_days',
				label: 'Working days',
				unit: 'days',
				closed: 'keep',
				extend: 'year-ago',
				rollup: { time: 'sum', members: 'average' }
			}
		)
	},
	{
		code: 'sales',
		name: 'Units × price',
		description: 'Units sold at a list price less discount; what they cost, and the margin that is left.',
		byDimensions: true,
		lines: lines(
			{ code: 'units', label: 'Units', unit: 'pieces' },
			price('list_price', 'List price', 'CURRENCY each', 'units'),
			{
				...share('discount', 'Discount', 'of list price'),
				rollup: { time: 'formula', members: 'weighted:units' }
			},
			{ code: 'revenue', label: 'Revenue', format: 'money', formula: 'units * list_price * (1 - discount)' },
			price('unit_cost', 'Cost of one', 'CURRENCY each', 'units'),
			{ code: 'cost', label: 'Cost of sales', format: 'money', formula: 'units * unit_cost' },
			{ code: 'margin', label: 'Margin', format: 'money', formula: 'revenue - cost' },
			{
				code: 'margin_share',
				label: 'Margin',
				unit: 'of revenue',
				format: 'percent',
				formula: 'ratio(margin, revenue)',
				rollup: { time: 'formula', members: 'formula' }
			}
		)
	},
	{
		code: 'subscriptions',
		name: 'Members and fees',
		description:
			'Members at the end of each month, from those who join and those who leave, and what they pay.',
		byDimensions: true,
		lines: lines(
			{ code: 'joiners', label: 'Joiners', unit: 'people' },
			share('leaving_share', 'Leaving', 'of members'),
			{
				code: 'members',
				label: 'Members',
				unit: 'people',
				formula: 'opening(members) * (1 - leaving_share) + joiners',
				rollup: { time: 'last', members: 'sum' }
			},
			price('monthly_fee', 'Monthly fee', 'CURRENCY each'),
			{ code: 'fees', label: 'Fees', format: 'money', formula: 'members * monthly_fee' }
		)
	},
	{
		code: 'service',
		name: 'Jobs and hours',
		description: 'Jobs, the hours they take and what an hour brings and costs.',
		byDimensions: true,
		lines: lines(
			{ code: 'jobs', label: 'Jobs', unit: 'jobs' },
			{ ...price('hours_per_job', 'Hours a job', 'hours', 'jobs'), format: 'number' },
			{ code: 'hours', label: 'Hours', unit: 'hours', formula: 'jobs * hours_per_job' },
			price('charge_rate', 'Charge rate', 'CURRENCY per hour', 'hours'),
			price('cost_rate', 'Cost rate', 'CURRENCY per hour', 'hours'),
			{ code: 'revenue', label: 'Revenue', format: 'money', formula: 'hours * charge_rate' },
			{ code: 'cost', label: 'Cost', format: 'money', formula: 'hours * cost_rate' }
		)
	},
	{
		code: 'per-head',
		name: 'Cost per head',
		description: 'What every person costs beside pay: places, licences, training.',
		byDimensions: true,
		lines: lines(
			{
				code: 'heads',
				label: 'Heads',
				unit: 'people',
				closed: 'keep',
				extend: 'last',
				rollup: { time: 'average', members: 'sum' }
			},
			price('cost_per_head', 'Cost a head', 'CURRENCY a month', 'heads'),
			{ code: 'cost', label: 'Cost', format: 'money', formula: 'heads * cost_per_head' }
		)
	}
];
