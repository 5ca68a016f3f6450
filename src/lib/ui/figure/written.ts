/** A figure as requests write it: periods in the writing of the block in which it stands, or is seen. */
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import type { FigureRef } from '../../core/explain/trace';
import type { CompanyContext } from '../shell/company';

/** In whose periods a figure is named. */
export const calendarFor = ({ calendarOf }: CompanyContext, ref: FigureRef, scenario?: string) =>
	calendarOf(ref.in ?? (ref.kind === 'line' ? ref.model : ACCOUNTS_BLOCK), scenario);

export function written(company: CompanyContext, ref: FigureRef, scenario?: string) {
	const { key } = calendarFor(company, ref, scenario);
	return ref.kind === 'line'
		? { ...ref, period: key(ref.period) }
		: { ...ref, from: key(ref.from), to: key(ref.to) };
}
