/** In which currency people look at figures: that of the departments they are of, or the reporting one. */
import { currencyUnder, severalCurrencies, type Structure } from '../company/structure';
import type { Exchange } from './exchange';

export const MONEY_VIEWS = ['local', 'reporting'] as const;
export type MoneyView = (typeof MONEY_VIEWS)[number];

/**
 * How a department's figures are shown: as asked, else in its own currency where it has one. What plans in the
 * reporting currency is local either way.
 */
export function moneyView(
	structure: Structure,
	department: string | null,
	asked: MoneyView | null = null
): MoneyView {
	const currency = currencyUnder(structure, department);
	if (!severalCurrencies(structure) || currency === structure.currency) return 'local';
	return asked ?? (currency === null ? 'reporting' : 'local');
}

/** The currency of figures in a view; null for those of several currencies as they are. */
export const currencyIn = (
	structure: Structure,
	department: string | null,
	view: MoneyView
): string | null => (view === 'reporting' ? structure.currency : currencyUnder(structure, department));

/** By what totals of a plan are made in a view. */
export const ratesIn = ({ exchange }: { exchange: Exchange }, view: MoneyView): 'local' | Exchange =>
	view === 'local' ? 'local' : exchange;
