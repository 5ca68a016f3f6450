/** Whether rows of a block's lines can be added up as they are: amounts of departments count in their own currencies. */
import { severalCurrencies } from '../company/structure';
import { LOCAL } from '../formula/units';
import type { Plan } from './plan';

/** @returns of rows of a line, by their places in the calculation, whether they are in several currencies */
export function currenciesIn(
	{ structure, blocks }: Plan,
	block: string
): (line: string, rows: readonly number[]) => boolean {
	const own = blocks.get(block);
	const place = own?.dimensions.indexOf('department') ?? -1;
	if (!own || place < 0 || !severalCurrencies(structure)) return () => false;
	const { departmentRow, rowCurrency } = structure;
	const currencies = own.rows.map((row) => rowCurrency[departmentRow.get(row[place]) ?? -1]);
	const local = new Map<string, boolean>();
	return (line, rows) => {
		const known = local.get(line) ?? own.currencyOf(line) === LOCAL;
		local.set(line, known);
		return known && rows.some((r) => currencies[r] !== currencies[rows[0]]);
	};
}
