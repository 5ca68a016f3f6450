/**
 * The built-in schedules as data: what a row's columns hold, and how its lines are computed month by month. Rows
 * are people, contracts and assets; a formula names columns and lines of its own schedule.
 */
import type { Unit } from '../../formula/units';

export interface ScheduleColumn {
	code: string;
	label: string;
	kind: 'money' | 'share' | 'number' | 'date' | 'text' | 'truth';
	/** Unit of a number, e.g. months. */
	unit?: Unit;
}
export interface ScheduleLine {
	code: string;
	label: string;
	kind: 'money' | 'share' | 'number';
	/** Absent: typed month by month. */
	formula?: string;
}
export interface ScheduleForm {
	code: string;
	columns: readonly ScheduleColumn[];
	lines: readonly ScheduleLine[];
}

/** Prepaid and recurring contracts. */
export const CONTRACTS: ScheduleForm = {
	code: 'contracts',
	columns: [
		{ code: 'amount', label: 'Amount of a term', kind: 'money' },
		{ code: 'start', label: 'Start', kind: 'date' },
		{ code: 'end', label: 'End', kind: 'date' },
		{ code: 'renews', label: 'Renews', kind: 'truth' },
		{ code: 'uplift', label: 'Uplift at renewal', kind: 'share' }
	],
	lines: [
		{ code: 'term', label: 'Term', kind: 'number', formula: 'whole_life(active(start, end))' },
		{ code: 'monthly', label: 'Cost of a month', kind: 'money', formula: 'ratio(amount, term)' },
		{
			code: 'cost',
			label: 'Cost',
			kind: 'money',
			formula: 'monthly * if(renews, renewing(start, end, uplift), active(start, end))'
		},
		{ code: 'paid', label: 'Paid', kind: 'money' },
		{ code: 'prepaid', label: 'Prepaid balance', kind: 'money', formula: 'opening(prepaid) + paid - cost' }
	]
};

/** Assets and their depreciation. */
export const ASSETS: ScheduleForm = {
	code: 'assets',
	columns: [
		{ code: 'cost', label: 'Cost', kind: 'money' },
		{ code: 'salvage', label: 'Salvage value', kind: 'money' },
		{ code: 'life', label: 'Useful life', kind: 'number', unit: { month: 1 } },
		{ code: 'in_service', label: 'In service', kind: 'date' },
		{ code: 'method', label: 'Method', kind: 'text' },
		{ code: 'policy', label: 'Begins', kind: 'text' },
		{ code: 'factor', label: 'Declining factor', kind: 'number' }
	],
	lines: [
		{
			code: 'depreciation',
			label: 'Depreciation',
			kind: 'money',
			formula: 'depreciation(method, cost, salvage, life, in_service, policy, factor)'
		},
		{
			code: 'accumulated',
			label: 'Accumulated depreciation',
			kind: 'money',
			formula: 'to_date(depreciation(method, cost, salvage, life, in_service, policy, factor))'
		},
		{
			code: 'book_value',
			label: 'Book value',
			kind: 'money',
			formula: 'if(in_service <= period_end(), cost - accumulated, 0)'
		}
	]
};

/** People and open posts, each once; pay rises are typed in the months in which they begin. */
export const STAFF: ScheduleForm = {
	code: 'staff',
	columns: [
		{ code: 'annual', label: 'Annual pay', kind: 'money' },
		{ code: 'rate', label: 'Hourly rate', kind: 'money' },
		{ code: 'start', label: 'Start', kind: 'date' },
		{ code: 'end', label: 'End', kind: 'date' },
		{ code: 'tax_rate', label: 'Tax and contributions', kind: 'share' },
		{ code: 'tax_cap', label: 'Yearly cap on taxed pay', kind: 'money' },
		{ code: 'benefit', label: 'Benefits in a month', kind: 'money' },
		{ code: 'bonus', label: 'Bonus', kind: 'share' },
		{ code: 'bonus_month', label: 'Bonus paid in month', kind: 'number' },
		{ code: 'leave_hours', label: 'Leave in a year', kind: 'number', unit: { hour: 1 } }
	],
	lines: [
		{ code: 'raise', label: 'Raise', kind: 'share' },
		{ code: 'paid_hours', label: 'Paid hours', kind: 'number' },
		{ code: 'leave_taken', label: 'Leave taken', kind: 'number' },
		{
			code: 'raises',
			label: 'Raises in force',
			kind: 'share',
			formula: 'if(is_blank(opening(raises)), 1, opening(raises)) * (1 + raise)'
		},
		{ code: 'fte', label: 'FTE', kind: 'number', formula: 'active(start, end)' },
		{
			code: 'pay',
			label: 'Pay',
			kind: 'money',
			formula: 'if(is_blank(rate), annual / 12, rate * paid_hours) * raises * fte'
		},
		{
			code: 'tax',
			label: 'Taxes and contributions',
			kind: 'money',
			formula: 'tax_rate * capped(pay, tax_cap)'
		},
		{ code: 'benefits', label: 'Benefits', kind: 'money', formula: 'benefit * fte' },
		{
			code: 'bonus_pay',
			label: 'Bonus',
			kind: 'money',
			formula:
				'if(is_blank(bonus_month), bonus * pay, if(month(period_end()) = bonus_month, bonus * trailing(pay, 12), 0))'
		},
		{
			code: 'leave',
			label: 'Leave owed, hours',
			kind: 'number',
			formula: 'opening(leave) + leave_hours / 12 * fte - leave_taken'
		}
	]
};

/**
 * People divided over departments: rows are person × department, `split` is the share typed for a month, blank
 * meaning all of it. Everything of the person is divided, so that the person's sums stay as they are.
 */
export const STAFF_SPLIT: ScheduleForm = {
	code: 'staff_split',
	columns: [],
	lines: [
		{ code: 'split', label: 'Share', kind: 'share' },
		{ code: 'part', label: 'Share in force', kind: 'share', formula: 'coalesce(split, 1)' },
		{ code: 'whole', label: 'All shares together', kind: 'share', formula: 'total(part, department)' },
		{ code: 'fte', label: 'FTE', kind: 'number', formula: 'staff.fte * part' },
		{ code: 'pay', label: 'Pay', kind: 'money', formula: 'staff.pay * part' },
		{ code: 'tax', label: 'Taxes and contributions', kind: 'money', formula: 'staff.tax * part' },
		{ code: 'benefits', label: 'Benefits', kind: 'money', formula: 'staff.benefits * part' }
	]
};
