/** What stands in the months of a scenario's own, for those who move it. */
import { axisCovering } from '../../core/engine/axis';
import { BLANK } from '../../core/engine/values';
import { Exchange } from '../../core/currency/exchange';
import { foreignCurrencies } from '../../core/currency/rates';
import { companyCalendar } from '../../core/scenario/calendar';
import type { Plan } from '../../core/scenario/plan';
import { totalsOf, type Totals } from '../../core/statements/totals';
import type { MovedFigures } from '../../core/views/chart-row';
import type { ListedScenario } from '../company/subjects/scenarios';

/** Far below a cent. */
const NOISE = 1e-6;
/** Whether an amount is one, rather than what sums in another order differ by; an error stands for one. */
export const isFigure = (amount: number): boolean => !(Math.abs(amount) <= NOISE);
/** Whether two are not the same; two errors are. */
export const differ = (a: number, b: number): boolean =>
	Number.isNaN(a) || Number.isNaN(b) ? Number.isNaN(a) !== Number.isNaN(b) : isFigure(a - b);

/**
 * An account's totals month by month, without what the plan looks back on; an error is NaN.
 * @param department null for all of them
 */
export function ownMonths(
	totals: Totals,
	{ first, last }: Pick<ListedScenario, 'first' | 'last'>,
	account: string,
	department: string | null
): Float64Array {
	const { values, marks, start, first: from } = totals.of(account, department);
	const at = start + first - from;
	return values.slice(at, start + last - from + 1).map((value, i) => (marks[at + i] > BLANK ? NaN : value));
}

/** Rates under which every amount counts, known or not: for telling whether figures are there, and are the same. */
const even = new WeakMap<Plan, Exchange>();

/** Totals to be compared, and never shown: an amount of any currency counts as it stands. */
export function comparable(plan: Plan): Totals {
	const { structure, calculation } = plan;
	const calendar = companyCalendar(structure.calendar);
	const { first, length } = axisCovering(calendar, calculation.axis);
	const run = { first, values: new Float64Array(length).fill(1) };
	const exchange =
		even.get(plan) ??
		new Exchange(
			structure.currency,
			foreignCurrencies(structure).map((currency) => ({ currency, average: run, closing: run })),
			calendar
		);
	even.set(plan, exchange);
	return totalsOf(plan, structure.calendar, exchange);
}

/** What moves in a scenario, in a currency; null where that cannot be said, since a rate is missing. */
export const movedIn = (
	{ name: scenario }: ListedScenario,
	currency: string | null,
	amount: number
): MovedFigures => ({ scenario, currency: currency ?? '', amount: Number.isFinite(amount) ? amount : null });
