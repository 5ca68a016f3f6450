/** What an account's plan comes from, in words. */
import type { Origin } from '../../core/inputs/basis';
import { basisWords, type BasisNames } from '../../core/inputs/basis-words';

/** Names by code. */
export interface Names extends BasisNames {
	model: (code: string) => string;
}

/** Empty where figures have no origin of their own: totals. */
export function originWords(origin: Origin | null, names: Names): string {
	if (!origin) return '';
	return origin.kind === 'posted'
		? origin.models.map(names.model).join(', ')
		: basisWords(origin.basis, names);
}

/** Whether something stands there without being typed. */
export const hasBasis = (origin: Origin | null) =>
	origin !== null && (origin.kind === 'posted' || origin.basis.kind !== 'typed');
