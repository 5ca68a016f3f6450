/** Ready-made beginnings of schedules. All of a template can be changed afterwards; nothing else knows of them. */
import { DUE, PAID } from '../../functions/instalments';
import { ScheduleColumn, ScheduleLine, type ScheduleDefinition } from './schema';

export interface ScheduleTemplate {
	code: string;
	name: string;
	description: string;
	form: Pick<ScheduleDefinition, 'one' | 'named' | 'divided' | 'columns' | 'lines'>;
	/** Lines that are usually posted, some to balances; to which account is chosen when a schedule is made. */
	posts: readonly { line: string; says: string; balance?: true; lowers?: true }[];
	/** Lines that go to the account that a column names. */
	byColumn: readonly { line: string; column: string }[];
}

type Column = Partial<ScheduleColumn> & Pick<ScheduleColumn, 'code' | 'label' | 'kind'>;
type Line = Partial<ScheduleLine> & Pick<ScheduleLine, 'code' | 'label'>;
const columns = (...list: Column[]): ScheduleColumn[] => list.map((c) => ScheduleColumn.parse(c));
const lines = (...list: Line[]): ScheduleLine[] => list.map((l) => ScheduleLine.parse(l));

const department: Column = { code: 'department', label: 'Department', kind: 'department', required: true };

/** What commission is paid on, of its own month or of one up to three before. */
const LAGGED = [1, 2, 3].reduceRight(
	(otherwise, lag) => `if(commission_after = ${lag}, lag(account(commission_on), ${lag}), ${otherwise})`,
	'account(commission_on)'
);

const PEOPLE: ScheduleTemplate = {
	code: 'people',
	name: 'People',
	description: 'People and open posts: pay, taxes, benefits, bonus, leave.',
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
			{ code: 'bonus_accrues', label: 'Bonus accrues', kind: 'yes-no' },
			{ code: 'commission_rate', label: 'Commission', kind: 'percent', personal: true },
			{ code: 'commission_on', label: 'Commission on', kind: 'account' },
			{
				code: 'commission_after',
				label: 'Commission paid after',
				kind: 'number',
				unit: 'months',
				least: 0,
				most: 3
			},
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
				code: 'bonus_paid',
				label: 'Bonus paid out',
				formula:
					'if(is_blank(bonus_month), bonus * pay, if(month(period_end()) = bonus_month, bonus * trailing(pay, 12), 0))'
			},
			{ code: 'bonus_pay', label: 'Bonus', formula: 'if(bonus_accrues, bonus * pay, bonus_paid)' },
			{
				code: 'bonus_owed',
				label: 'Bonus owed',
				time: 'last',
				formula: 'opening(bonus_owed) + bonus_pay - bonus_paid'
			},
			{ code: 'commission', label: 'Commission', formula: `commission_rate * ${LAGGED}` },
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
		{ line: 'commission', says: 'Commission' },
		{ line: 'headcount', says: 'Headcount' },
		{ line: 'fte', says: 'FTE' }
	],
	byColumn: []
};

const COST = 'monthly * renewing(start, end, uplift, last_day)';
/** By the last day on which notice can be given, a term is one that begins so much earlier. */
const NOTICE = 'edate(start, -notice) - 1';
const INSTALMENTS = 'monthly * instalments(start, end, paid_how, due, uplift, last_day)';

const CONTRACTS: ScheduleTemplate = {
	code: 'contracts',
	name: 'Contracts',
	description: 'What is paid for a term and renews: cost by month, payments, prepaid and accrued, notice.',
	form: {
		one: 'contract',
		named: 'what',
		divided: false,
		columns: columns(
			{ code: 'what', label: 'What', kind: 'text', required: true },
			department,
			{ code: 'amount', label: 'Amount of a term', kind: 'money', required: true },
			{ code: 'start', label: 'Start', kind: 'date', required: true },
			{ code: 'end', label: 'End of term', kind: 'date', least: 'start', required: true },
			{ code: 'supplier', label: 'Supplier', kind: 'text' },
			{ code: 'account', label: 'Account', kind: 'account', required: true },
			{
				code: 'paid_how',
				label: 'Paid',
				kind: 'pick',
				choices: Object.keys(PAID),
				default: 'once',
				required: true
			},
			{ code: 'due', label: 'Due', kind: 'pick', choices: [...DUE], default: 'in advance', required: true },
			{ code: 'renews', label: 'Renews', kind: 'yes-no' },
			{ code: 'uplift', label: 'Uplift', kind: 'percent', least: -1, most: 10 },
			{ code: 'notice', label: 'Notice', kind: 'number', unit: 'months', least: 0, most: 120 },
			{ code: 'ended', label: 'Ends early on', kind: 'date', least: 'start' },
			{
				code: 'last_day',
				label: 'Last day',
				kind: 'date',
				formula: 'if(renews, ended, min(end, ended))'
			},
			{
				code: 'term',
				label: 'Term',
				kind: 'number',
				formula: 'whole_life(active(start, end))'
			},
			{ code: 'monthly', label: 'Cost of a month', kind: 'money', formula: 'ratio(amount, term)' }
		),
		lines: lines(
			{ code: 'cost', label: 'Cost', formula: COST },
			{ code: 'paid', label: 'Paid', formula: INSTALMENTS },
			{
				code: 'balance',
				label: 'Paid less cost',
				time: 'last',
				formula: `to_date(${INSTALMENTS}) - to_date(${COST})`
			},
			{ code: 'prepaid', label: 'Prepaid', time: 'last', formula: 'max(0, balance)' },
			{ code: 'accrued', label: 'Accrued', time: 'last', formula: 'max(0, -balance)' },
			{
				code: 'renewal',
				label: 'Renews for',
				formula:
					'if(start >= period_start(), 0, monthly * instalments(start, end, "once", "in advance", uplift, last_day))'
			},
			{
				code: 'notice_due',
				label: 'Notice to be given',
				format: 'number',
				formula: `if(or(not(renews), ${NOTICE} >= period_start()), 0, if(instalments(${NOTICE}, edate(end + 1, -notice) - 2, "once", "in advance", 0, if(is_blank(ended), ended, edate(ended, -notice) - 1)) > 0, 1, 0))`
			}
		)
	},
	posts: [
		{ line: 'prepaid', says: 'Prepaid', balance: true },
		{ line: 'accrued', says: 'Accrued', balance: true }
	],
	byColumn: [{ line: 'cost', column: 'account' }]
};

const CHARGE =
	'depreciation(method, cost, salvage, life, in_service, begins, factor, charged_to, books_at, books)';
const SOLD_NOW = 'and(sold >= period_start(), sold <= period_end())';

const ASSETS: ScheduleTemplate = {
	code: 'assets',
	name: 'Assets',
	description: 'What wears out: purchases, depreciation, disposals, book value.',
	form: {
		one: 'asset',
		named: 'what',
		divided: false,
		columns: columns(
			{ code: 'what', label: 'What', kind: 'text', required: true },
			department,
			{ code: 'class', label: 'Class', kind: 'text' },
			{ code: 'cost', label: 'Cost', kind: 'money', least: 0, required: true },
			{ code: 'in_service', label: 'In service', kind: 'date', required: true },
			{ code: 'life', label: 'Life', kind: 'number', unit: 'months', least: 1, most: 1200, required: true },
			{ code: 'salvage', label: 'Salvage', kind: 'money', least: 0, most: 'cost' },
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
			{ code: 'factor', label: 'Declining factor', kind: 'number', least: 1, most: 5 },
			{ code: 'books_at', label: 'Books as of', kind: 'date' },
			{ code: 'books', label: 'Charged by then', kind: 'money', least: 0, most: 'cost' },
			{ code: 'sold', label: 'Sold or scrapped', kind: 'date', least: 'in_service' },
			{ code: 'proceeds', label: 'Sold for', kind: 'money', least: 0 },
			{
				code: 'last_month',
				label: 'Month of sale',
				kind: 'pick',
				choices: ['charged', 'not charged'],
				default: 'charged',
				required: true
			},
			{
				code: 'charged_to',
				label: 'Charged to',
				kind: 'date',
				formula: 'if(last_month = "not charged", eomonth(sold, -1), sold)'
			}
		),
		lines: lines(
			{ code: 'depreciation', label: 'Depreciation', formula: CHARGE },
			{
				code: 'additions',
				label: 'Purchases',
				formula: 'if(and(in_service >= period_start(), in_service <= period_end()), cost, 0)'
			},
			{ code: 'disposals', label: 'Disposals at cost', formula: `if(${SOLD_NOW}, cost, 0)` },
			{
				code: 'cost_held',
				label: 'Cost at end',
				time: 'last',
				formula: 'if(and(in_service <= period_end(), or(is_blank(sold), sold > period_end())), cost, 0)'
			},
			{ code: 'worn', label: 'Charged to date', time: 'last', formula: `to_date(${CHARGE})` },
			{
				code: 'released',
				label: 'Accumulated of disposals',
				formula: `if(${SOLD_NOW}, worn, 0)`
			},
			{
				code: 'accumulated',
				label: 'Accumulated depreciation',
				time: 'last',
				formula: 'if(or(is_blank(sold), sold > period_end()), worn, 0)'
			},
			{ code: 'book_value', label: 'Book value', time: 'last', formula: 'cost_held - accumulated' },
			{ code: 'received', label: 'Received for disposals', formula: `if(${SOLD_NOW}, proceeds, 0)` },
			{
				code: 'gain',
				label: 'Gain or loss on disposal',
				formula: `if(${SOLD_NOW}, proceeds - (cost - worn), 0)`
			}
		)
	},
	posts: [
		{ line: 'depreciation', says: 'Depreciation' },
		{ line: 'gain', says: 'Gain or loss on disposal' },
		{ line: 'cost_held', says: 'Cost', balance: true },
		{ line: 'accumulated', says: 'Accumulated depreciation', balance: true, lowers: true }
	],
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
