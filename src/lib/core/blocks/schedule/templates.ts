/** Ready-made beginnings of schedules. All of a template can be changed afterwards; nothing else knows of them. */
import { ScheduleColumn, ScheduleLine, type ScheduleDefinition } from './schema';

export interface ScheduleTemplate {
	code: string;
	name: string;
	description: string;
	form: Pick<ScheduleDefinition, 'one' | 'named' | 'divided' | 'columns' | 'lines'>;
	/** Lines that are usually posted; to which account is chosen when a schedule is made. */
	posts: readonly { line: string; says: string }[];
	/** Lines that go to the account that a column names. */
	byColumn: readonly { line: string; column: string }[];
}

type Column = Partial<ScheduleColumn> & Pick<ScheduleColumn, 'code' | 'label' | 'kind'>;
type Line = Partial<ScheduleLine> & Pick<ScheduleLine, 'code' | 'label'>;
const columns = (...list: Column[]): ScheduleColumn[] => list.map((c) => ScheduleColumn.parse(c));
const lines = (...list: Line[]): ScheduleLine[] => list.map((l) => ScheduleLine.parse(l));

const department: Column = { code: 'department', label: 'Department', kind: 'department', required: true };

const PEOPLE: ScheduleTemplate = {
	code: 'people',
	name: 'People',
	description:
		'People and open posts: pay by dates and raises, taxes up to a yearly cap, benefits, bonus, leave.',
	form: {
		one: 'person',
		named: 'name',
		divided: true,
		columns: columns(
			{ code: 'name', label: 'Name', kind: 'text', required: true },
			department,
			{ code: 'open_post', label: 'Open post', kind: 'yes-no' },
			{ code: 'start', label: 'Start', kind: 'date', required: true },
			{ code: 'end', label: 'End', kind: 'date', least: 'start' },
			{ code: 'annual', label: 'Annual pay', kind: 'money', least: 0, personal: true },
			{ code: 'hourly', label: 'Hourly rate', kind: 'money', unit: 'per hour', least: 0, personal: true },
			{ code: 'tax_rate', label: 'Taxes', kind: 'percent', least: 0, most: 1 },
			{ code: 'tax_cap', label: 'Cap on taxed pay', kind: 'money', least: 0 },
			{ code: 'benefit', label: 'Benefits a month', kind: 'money', personal: true },
			{ code: 'bonus', label: 'Bonus', kind: 'percent', personal: true },
			{ code: 'bonus_month', label: 'Bonus paid in', kind: 'number', least: 1, most: 12 },
			{ code: 'leave_hours', label: 'Leave a year', kind: 'number', unit: 'hours', least: 0 }
		),
		lines: lines(
			{ code: 'raise', label: 'Raise', format: 'percent', adds: false, time: 'last', personal: true },
			{ code: 'paid_hours', label: 'Paid hours', unit: 'hours', format: 'number', extend: 'year-ago' },
			{ code: 'leave_taken', label: 'Leave taken', unit: 'hours', format: 'number' },
			{
				code: 'raises',
				label: 'Raises in force',
				format: 'percent',
				adds: false,
				time: 'last',
				formula: 'if(is_blank(opening(raises)), 1, opening(raises)) * (1 + raise)'
			},
			{ code: 'fte', label: 'FTE', format: 'number', time: 'average', formula: 'active(start, end)' },
			{
				code: 'headcount',
				label: 'Headcount',
				format: 'number',
				time: 'last',
				formula: 'if(and(start <= period_end(), or(is_blank(end), end >= period_end())), 1, 0)'
			},
			{
				code: 'joiners',
				label: 'Joiners',
				format: 'number',
				formula: 'if(and(start >= period_start(), start <= period_end()), 1, 0)'
			},
			{
				code: 'leavers',
				label: 'Leavers',
				format: 'number',
				formula: 'if(and(end >= period_start(), end <= period_end()), 1, 0)'
			},
			{
				code: 'pay',
				label: 'Pay',
				formula: 'if(is_blank(hourly), annual / 12, hourly * paid_hours) * raises * fte'
			},
			{ code: 'tax', label: 'Taxes and contributions', formula: 'tax_rate * capped(pay, tax_cap)' },
			{ code: 'benefits', label: 'Benefits', formula: 'benefit * fte' },
			{
				code: 'bonus_pay',
				label: 'Bonus',
				formula:
					'if(is_blank(bonus_month), bonus * pay, if(month(period_end()) = bonus_month, bonus * trailing(pay, 12), 0))'
			},
			{
				code: 'leave',
				label: 'Leave owed',
				unit: 'hours',
				format: 'number',
				time: 'last',
				formula: 'opening(leave) + leave_hours / 12 * fte - leave_taken'
			}
		)
	},
	posts: [
		{ line: 'pay', says: 'Pay' },
		{ line: 'tax', says: 'Taxes and contributions' },
		{ line: 'benefits', says: 'Benefits' },
		{ line: 'bonus_pay', says: 'Bonus' },
		{ line: 'headcount', says: 'Headcount' },
		{ line: 'fte', says: 'FTE' }
	],
	byColumn: []
};

const CONTRACTS: ScheduleTemplate = {
	code: 'contracts',
	name: 'Contracts',
	description:
		'What is paid for a term and renews: the cost of each month, posted to the account in the row.',
	form: {
		one: 'contract',
		named: 'what',
		divided: false,
		columns: columns(
			{ code: 'what', label: 'Contract', kind: 'text', required: true },
			{ code: 'supplier', label: 'Supplier', kind: 'text' },
			department,
			{ code: 'account', label: 'Account', kind: 'account', required: true },
			{ code: 'amount', label: 'Amount of a term', kind: 'money', required: true },
			{ code: 'start', label: 'Start', kind: 'date', required: true },
			{ code: 'end', label: 'End of term', kind: 'date', least: 'start', required: true },
			{ code: 'renews', label: 'Renews', kind: 'yes-no' },
			{ code: 'uplift', label: 'Uplift', kind: 'percent', least: -1, most: 10 }
		),
		lines: lines(
			{
				code: 'term',
				label: 'Term',
				format: 'number',
				adds: false,
				time: 'last',
				formula: 'whole_life(active(start, end))'
			},
			{
				code: 'monthly',
				label: 'Cost of a month',
				adds: false,
				time: 'last',
				formula: 'ratio(amount, term)'
			},
			{
				code: 'cost',
				label: 'Cost',
				formula: 'monthly * if(renews, renewing(start, end, uplift), active(start, end))'
			},
			{ code: 'paid', label: 'Paid', extend: 'year-ago' },
			{ code: 'prepaid', label: 'Prepaid balance', time: 'last', formula: 'opening(prepaid) + paid - cost' }
		)
	},
	posts: [],
	byColumn: [{ line: 'cost', column: 'account' }]
};

const ASSETS: ScheduleTemplate = {
	code: 'assets',
	name: 'Assets',
	description: 'Things that wear out: depreciation by method and life, accumulated, and what they are worth.',
	form: {
		one: 'asset',
		named: 'what',
		divided: false,
		columns: columns(
			{ code: 'what', label: 'Asset', kind: 'text', required: true },
			department,
			{ code: 'class', label: 'Class', kind: 'text' },
			{ code: 'cost', label: 'Cost', kind: 'money', least: 0, required: true },
			{ code: 'salvage', label: 'Salvage', kind: 'money', least: 0, most: 'cost' },
			{ code: 'life', label: 'Life', kind: 'number', unit: 'months', least: 1, most: 1200, required: true },
			{ code: 'in_service', label: 'In service', kind: 'date', required: true },
			{
				code: 'method',
				label: 'Method',
				kind: 'pick',
				choices: ['straight-line', 'sum-of-years', 'declining', 'declining-switch'],
				default: 'straight-line',
				required: true
			},
			{
				code: 'begins',
				label: 'Begins',
				kind: 'pick',
				choices: ['same-month', 'next-month', 'half-month'],
				default: 'same-month',
				required: true
			},
			{ code: 'factor', label: 'Declining factor', kind: 'number', least: 1, most: 5 }
		),
		lines: lines(
			{
				code: 'depreciation',
				label: 'Depreciation',
				formula: 'depreciation(method, cost, salvage, life, in_service, begins, factor)'
			},
			{
				code: 'accumulated',
				label: 'Accumulated depreciation',
				time: 'last',
				formula: 'to_date(depreciation(method, cost, salvage, life, in_service, begins, factor))'
			},
			{
				code: 'book_value',
				label: 'Book value',
				time: 'last',
				formula: 'if(in_service <= period_end(), cost - accumulated, 0)'
			},
			{
				code: 'purchases',
				label: 'Purchases',
				formula: 'if(and(in_service >= period_start(), in_service <= period_end()), cost, 0)'
			}
		)
	},
	posts: [{ line: 'depreciation', says: 'Depreciation' }],
	byColumn: []
};

export const SCHEDULE_TEMPLATES: readonly ScheduleTemplate[] = [PEOPLE, CONTRACTS, ASSETS];

/** One without a template: rows with a name, a department and dates, and an amount that is typed by month. */
export const BLANK_SCHEDULE: ScheduleTemplate['form'] = {
	one: 'row',
	named: 'what',
	divided: false,
	columns: columns({ code: 'what', label: 'What', kind: 'text', required: true }, department),
	lines: lines({ code: 'amount', label: 'Amount' })
};
