/** Exchange rates: named sets of what one unit of a currency is worth in the reporting currency, period by period. */
import { z } from 'zod';
import { valueAt, type Run } from '../inputs/series';
import { periodRange, type Calendar, type Period } from '../calendar/calendar';
import type { Account, AccountType } from '../company/schema';
import { isBalance } from '../company/sign';
import type { Structure } from '../company/structure';

/** The mean over a period, for what flows in it; and what holds on its last day, for balances. */
export const RATE_KINDS = ['average', 'closing'] as const;
export type RateKind = (typeof RATE_KINDS)[number];

/** Units of reporting currency for one of this one; in the company's periods, blank where none is known. */
export type CurrencyRates = { currency: string } & Record<RateKind, Run | null>;

export interface RateSet {
	code: string;
	name: string;
	/** At its rates stand actuals, and every scenario that chooses no other set. */
	actuals: boolean;
	rates: readonly CurrencyRates[];
}

/** No rate is larger; the smallest has as many digits. */
export const MOST_RATE = 1e9;
/** A rate as people enter it: above 0. */
export const Rate = z
	.number()
	.gt(0, 'a rate above 0 was expected')
	.max(MOST_RATE, `a rate of at most ${MOST_RATE} was expected`)
	.min(1 / MOST_RATE, `a rate of at least ${1 / MOST_RATE} was expected`);

/** Whether an account holds money: only that is translated. */
export const isMoney = ({ type, format }: Pick<Account, 'type' | 'format'>): boolean =>
	type !== 'rate' && (type !== 'statistical' || format === 'money');

/** Flows are translated at the period's average rate, balances at its closing rate. Equity is not, it stands as it arose. */
export const rateKindOf = (type: AccountType): RateKind => (isBalance(type) ? 'closing' : 'average');

/** The set that a scenario's figures are translated by: its own, or that of actuals. */
export const setFor = (sets: readonly RateSet[], chosen: string | null | undefined): RateSet | undefined =>
	(chosen ? sets.find((s) => s.code === chosen) : undefined) ?? sets.find((s) => s.actuals);

/** Currencies of departments other than the reporting one, each once, in the order of the entities. */
export const foreignCurrencies = ({
	entities,
	currency
}: Pick<Structure, 'entities' | 'currency'>): string[] => [
	...new Set(entities.map((e) => e.currency).filter((c) => c !== currency))
];

export interface MissingRates {
	currency: string;
	kind: RateKind;
	/** Runs of periods, both ends included. */
	spans: { from: Period; to: Period }[];
}

/** Rates that are not known for currencies in these periods. */
export function missingRates(
	rates: readonly CurrencyRates[],
	currencies: readonly string[],
	from: Period,
	to: Period
): MissingRates[] {
	const found: MissingRates[] = [];
	for (const currency of currencies)
		for (const kind of RATE_KINDS) {
			const run = rates.find((r) => r.currency === currency)?.[kind] ?? null;
			const spans: MissingRates['spans'] = [];
			for (const p of periodRange(from, to)) {
				if (valueAt(run, p) !== null) continue;
				const last = spans.at(-1);
				if (last && last.to === p - 1) last.to = p;
				else spans.push({ from: p, to: p });
			}
			if (spans.length) found.push({ currency, kind, spans });
		}
	return found;
}

/** Missing rates as people say it: “EUR average Apr 26 – Jun 26 and Sep 26”. */
export const missingText = ({ currency, kind, spans }: MissingRates, calendar: Calendar): string =>
	`${currency} ${kind} ${spans
		.map(({ from, to }) =>
			from === to ? calendar.label(from) : `${calendar.label(from)} – ${calendar.label(to)}`
		)
		.join(', ')}`;
