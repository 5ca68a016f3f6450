/** Amounts that are added up currency by currency, for there is no sum of several; what is no money stands apart. */

/** By currency; those that come to nothing, too. What is no money, such as units, under `MEASURES`. */
export type Amounts = Readonly<Record<string, number>>;
export const MEASURES = '';

/** Sums of cents, without the noise of binary fractions. */
const cents = (v: number) => Math.round(v * 1e4) / 1e4 + 0;

export function addedUp(list: Iterable<Amounts>): Amounts {
	const sums: Record<string, number> = {};
	for (const amounts of list)
		for (const [currency, amount] of Object.entries(amounts)) sums[currency] = (sums[currency] ?? 0) + amount;
	return Object.fromEntries(Object.entries(sums).map(([currency, sum]) => [currency, cents(sum)]));
}
