/** What accounts are, in words. */
import type { AccountType, CashFlow, NumberFormat, TimeRollup } from '../../core/company/schema';

export const TYPES: readonly { value: AccountType; name: string }[] = [
	{ value: 'revenue', name: 'Income' },
	{ value: 'expense', name: 'Cost' },
	{ value: 'asset', name: 'Asset' },
	{ value: 'liability', name: 'Liability' },
	{ value: 'equity', name: 'Equity' },
	{ value: 'statistical', name: 'Statistic' },
	{ value: 'rate', name: 'Rate' }
];
export const ROLLUPS: readonly { value: TimeRollup; name: string }[] = [
	{ value: 'sum', name: 'added up' },
	{ value: 'last', name: 'as at the end' },
	{ value: 'average', name: 'the average' }
];
export const FORMATS: readonly { value: NumberFormat; name: string }[] = [
	{ value: 'money', name: 'Money' },
	{ value: 'number', name: 'Number' },
	{ value: 'percent', name: 'Percent' },
	{ value: 'price', name: 'Price, with cents' }
];
export const FLOWS: readonly { value: CashFlow; name: string }[] = [
	{ value: 'operating', name: 'Operating' },
	{ value: 'investing', name: 'Investing' },
	{ value: 'financing', name: 'Financing' },
	{ value: 'none', name: 'Never paid' },
	{ value: 'cash', name: 'Cash itself' }
];
export const nameIn = <T extends string>(list: readonly { value: T; name: string }[], value: T): string =>
	list.find((i) => i.value === value)!.name;
