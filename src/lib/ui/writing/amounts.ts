/** Amounts in one currency or several, as people read them. */
import type { Amounts } from '../../core/currency/amounts';
import { exact } from './format';

/** “1,234.50”, or with several “GBP 1,234.50 and EUR 20.00”. */
export function amountsText(amounts: Amounts): string {
	const list = Object.entries(amounts);
	if (list.length < 2) return exact(list[0]?.[1] ?? 0, 'money');
	return list.map(([currency, amount]) => `${currency} ${exact(amount, 'money')}`).join(' and ');
}
