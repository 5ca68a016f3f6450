/**
 * What of a company calculations rest on. Names, the order of accounts and which heading they stand under are no part of
 * it: what is calculated stays when they change.
 */
import type { Period } from '../../core/calendar/calendar';
import type { Company, LedgerAccount } from '../../core/company/schema';
import type { Structure } from '../../core/company/structure';
import type { RateSet } from '../../core/currency/rates';
import type { CombinationRule } from '../../core/inputs/schema';
import type { LedgerMonths } from './ledger-months';

/** One for all states of a company in which every block calculates the same. */
export interface Footing {
	readonly id: number;
	readonly text: string;
	readonly ledger: LedgerMonths;
}

interface Parts {
	company: Company;
	closedThrough: Period | null;
	structure: Structure;
	rateSets: readonly RateSet[];
	ledgerAccounts: readonly LedgerAccount[];
	rules: readonly CombinationRule[];
	/** The very same as long as nothing is booked. */
	ledger: LedgerMonths;
}

let made = 0;

/** @param last the one before, which goes on where nothing that counts has changed */
export function footingOf(parts: Parts, last: Footing | undefined): Footing {
	const text = textOf(parts);
	const { ledger } = parts;
	return last?.text === text && last.ledger === ledger ? last : { id: ++made, text, ledger };
}

function textOf({ company, closedThrough, structure, rateSets, ledgerAccounts, rules }: Parts): string {
	const { accounts, departments, dimensions, entities } = structure;
	const nameless = <T extends { name: string }>(all: readonly T[]) =>
		all.map((one) => ({ ...one, name: '' }));
	const leaves = accounts.all
		.filter((a) => accounts.isLeaf(a.code))
		.sort((a, b) => (a.code < b.code ? -1 : 1))
		// What a statistic or a rate is counted in is told by its format.
		.map((a) => [a.code, a.type, a.rollup, a.type === 'statistical' || a.type === 'rate' ? a.format : '']);
	return JSON.stringify([
		...nameless([company]),
		closedThrough,
		leaves,
		nameless(departments.all),
		nameless(entities),
		[...dimensions.values()].map(({ dimension: d }) => [d.code, nameless(d.members)]),
		rateSets.map((s) => [
			s.code,
			s.actuals,
			s.rates.map((r) => [
				r.currency,
				...[r.average, r.closing].map((run) => run && [run.first, ...run.values])
			])
		]),
		ledgerAccounts.map((l) => [l.code, l.account]),
		nameless(rules)
	]);
}
