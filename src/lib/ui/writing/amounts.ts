/** Amounts in one currency or several, as people read them. */
import { MEASURES, type Amounts } from '../../core/currency/amounts';
import { exact } from './format';

/**
 * “1,234.50”, or with several “GBP 1,234.50 and EUR 20.00”; units and other measures behind them.
 * @param reporting the currency that is named first
 */
export const amountsText = (amounts: Amounts, reporting: string): string =>
	amountLines(amounts, reporting).join(' and ') || exact(0, 'money');

/** The same one under another; none for nothing. */
export function amountLines(amounts: Amounts, reporting: string): string[] {
	const { [MEASURES]: measures, ...money } = amounts;
	const order = ([a]: [string, number], [b]: [string, number]) =>
		Number(b === reporting) - Number(a === reporting) || a.localeCompare(b, 'en');
	const list = Object.entries(money).sort(order);
	const named = list.length > 1 || measures !== undefined;
	const words = list.map(([currency, amount]) => `${named ? `${currency} ` : ''}${exact(amount, 'money')}`);
	if (measures !== undefined)
		words.push(list.length ? `${exact(measures, 'number')} in statistics` : exact(measures, 'number'));
	return words;
}
