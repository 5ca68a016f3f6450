/** A figure as requests write it: periods in the writing of the block in which it stands, or is seen. */
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import type { FigureRef } from '../../core/explain/trace';
import type { CompanyContext } from '../shell/company';

/** In whose periods a figure is named. */
export const calendarFor = ({ calendarOf }: CompanyContext, ref: FigureRef) =>
	calendarOf(ref.in ?? (ref.kind === 'line' ? ref.model : ACCOUNTS_BLOCK));

export function written(company: CompanyContext, ref: FigureRef) {
	const { key } = calendarFor(company, ref);
	return ref.kind === 'line'
		? { ...ref, period: key(ref.period) }
		: { ...ref, from: key(ref.from), to: key(ref.to) };
}
