/** Whether rows of a block's line can be added up as they are: amounts of departments count in their own currencies. */
import { LOCAL } from '../formula/units';
import type { Plan } from './plan';

/** @param rows their places in the calculation */
export function inSeveralCurrencies(
	{ structure, blocks }: Plan,
	block: string,
	line: string,
	rows: readonly number[]
): boolean {
	const own = blocks.get(block);
	if (!own || rows.length < 2 || own.currencyOf(line) !== LOCAL) return false;
	const place = own.dimensions.indexOf('department');
	const { departmentRow, rowCurrency } = structure;
	const currencies = rows.map((r) => rowCurrency[departmentRow.get(own.rows[r][place]) ?? -1]);
	return currencies.some((c) => c !== currencies[0]);
}
