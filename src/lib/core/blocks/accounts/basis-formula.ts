/** How an account in a department gets its plan, as a formula over the account's own department. */
import type { Expr } from '../../formula/ast';
import { call, num, ref, times } from '../../formula/make';
import type { Basis } from '../../inputs/basis';

/** What one unit of a currency is worth in that of each department, as a line of the accounts. */
export const exchangeLine = (currency: string) => `exchange:${currency}`;

/**
 * A basis as a formula over the account's own department.
 * @param foreign the currency of its driver's amounts, where the department plans in another one
 */
export function basisFormula(account: string, basis: Basis, foreign: string | null = null): Expr | null {
	switch (basis.kind) {
		case 'typed':
			return null;
		case 'last-year':
			return times(call('year_ago', ref(account)), num(1 + basis.percent));
		case 'percent-of':
			return times(ref(basis.account), num(basis.percent));
		case 'run-rate':
			return call('run_rate', ref(account), num(basis.months));
		case 'driver': {
			const [block, line] = basis.driver.split('.');
			const driven = times(ref(line, block), num(basis.rate));
			return foreign === null ? driven : times(driven, ref(exchangeLine(foreign)));
		}
	}
}
