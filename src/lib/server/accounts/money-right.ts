/** The right to type figures, in the currency in which they are shown. */
import { currencyUnder, type Structure } from '../../core/company/structure';
import type { MoneyView } from '../../core/currency/view';
import type { EditRight } from '../rounds/submissions';

/** Figures are typed in the department's own currency alone; totals over departments also in the reporting one. */
export function rightIn(
	structure: Structure,
	department: string,
	money: MoneyView,
	right: EditRight
): EditRight {
	if (money === 'local' || !right.editable) return right;
	const own = currencyUnder(structure, department);
	return {
		...right,
		editable: false,
		reason: own
			? `It is planned in ${own}; here it is shown in ${structure.currency}. Choose ${own} above to type.`
			: `Departments under it plan in several currencies; type a total to have it spread, or choose one of them.`
	};
}
