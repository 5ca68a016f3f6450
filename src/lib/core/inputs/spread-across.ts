/** Spreads a total over cells that count in other units than it: departments of several currencies. */
import { fromUnits, spread, toUnits, type SpreadCell, type SpreadMethod, type SpreadResult } from './spread';

export interface FactoredCell extends SpreadCell {
	/** What one unit of the cell is worth in the total's, above 0; 1 for what counts as the total does. */
	factor: number;
}

/** What cells come to in the total's units; blank stays blank. */
export const inTotal = (cells: readonly FactoredCell[]): SpreadCell[] =>
	cells.map((c) => (c.factor === 1 ? c : { ...c, value: c.value === null ? null : c.value * c.factor }));

/**
 * The total is spread in its own units, as `spread` does; each share is brought into its cell's, at the entry precision.
 * What that rounding leaves goes to one free cell, the largest of those that count as the total does, or else the
 * largest of all: so the cells come to the total to half a unit of that cell, which is to the last digit of the total
 * where one of them counts as it does.
 * @param method weights are in the cells' units
 * @param decimals entry precision of the total and of the cells
 * @returns values in the cells' own units
 */
export function spreadAcross(
	cells: readonly FactoredCell[],
	total: number,
	method: SpreadMethod,
	decimals: number
): SpreadResult {
	if (cells.every((c) => c.factor === 1)) return spread(cells, total, method, decimals);
	const weighed: SpreadMethod =
		method.kind === 'weights'
			? { ...method, weights: method.weights.map((w, i) => w * (cells[i]?.factor ?? 1)) }
			: method;
	const shared = spread(inTotal(cells), total, weighed, decimals);
	if (!shared.ok) return shared;
	const rounded = (v: number) => fromUnits(toUnits(v, decimals), decimals);
	const values = cells.map((c, i) => (c.held ? (c.value ?? 0) : rounded(shared.values[i] / c.factor)));
	const rest = total - values.reduce((sum, v, i) => sum + v * cells[i].factor, 0);
	const free = cells.flatMap((c, i) => (c.held ? [] : [i]));
	const same = free.filter((i) => cells[i].factor === 1);
	const worth = (i: number) => Math.abs(shared.values[i]);
	const [first, ...others] = same.length ? same : free;
	if (first === undefined) return { ok: true, values };
	const taking = others.reduce((most, i) => (worth(i) > worth(most) ? i : most), first);
	values[taking] = rounded(values[taking] + rest / cells[taking].factor);
	return { ok: true, values };
}
