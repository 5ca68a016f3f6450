/** Splits a change of revenue into price, volume and mix, with new and dropped items as steps of their own. */

import { tie } from './tie';

export interface SoldItem {
	/** Quantity and revenue in A (the later, the actual) and in B (the base). */
	quantityA: number;
	revenueA: number;
	quantityB: number;
	revenueB: number;
}

export interface PriceVolumeMix {
	volume: number;
	mix: number;
	price: number;
	new: number;
	dropped: number;
	/** Revenue of A less revenue of B: the exact sum of the steps. */
	total: number;
}

/**
 * Over the items sold in both, with totals Q and R: volume = (Qa − Qb) × Rb ÷ Qb, mix = Σ (qa − Qa × qb ÷ Qb) × pb,
 * price = Σ (pa − pb) × qa. An item without a base price is new, one that is no longer sold is dropped.
 */
export function priceVolumeMix(items: readonly SoldItem[]): PriceVolumeMix {
	const total = sum(items, (i) => i.revenueA) - sum(items, (i) => i.revenueB);
	const isNew = (i: SoldItem) => i.quantityB === 0;
	const isDropped = (i: SoldItem) => !isNew(i) && i.quantityA === 0;
	const steady = items.filter((i) => !isNew(i) && !isDropped(i));
	const added = sum(items.filter(isNew), (i) => i.revenueA - i.revenueB);
	const dropped = sum(items.filter(isDropped), (i) => i.revenueA - i.revenueB);
	const [qa, qb] = [sum(steady, (i) => i.quantityA), sum(steady, (i) => i.quantityB)];
	const base = sum(steady, (i) => i.revenueB);
	const volume = qb === 0 ? 0 : (qa - qb) * (base / qb);
	const basePrice = (i: SoldItem) => i.revenueB / i.quantityB;
	const mix = sum(steady, (i) => (i.quantityA - (qa * i.quantityB) / qb) * basePrice(i));
	const price = sum(steady, (i) => (i.revenueA / i.quantityA - basePrice(i)) * i.quantityA);
	const tied = tie([volume, mix, price, added, dropped], total);
	const [v, m, p, n, d] = tied.parts;
	return { volume: v, mix: m, price: p, new: n, dropped: d, total: tied.total };
}

const sum = (items: readonly SoldItem[], read: (i: SoldItem) => number) =>
	items.reduce((s, i) => s + read(i), 0);
