/** What stands in the months of a scenario's own, for those who move it. */
import type { Totals } from '../../core/statements/totals';
import type { ListedScenario } from '../company/subjects/scenarios';

/** Far below a cent. */
const NOISE = 1e-6;
/** Whether an amount is one, rather than what sums in another order differ by. */
export const isFigure = (amount: number): boolean => Math.abs(amount) > NOISE;

/** An account's totals month by month, without what the plan looks back on. @param department null for all of them */
export function ownMonths(
	totals: Totals,
	{ first, last }: ListedScenario,
	account: string,
	department: string | null
): Float64Array {
	const { values, start, first: from } = totals.of(account, department);
	return values.slice(start + first - from, start + last - from + 1);
}
