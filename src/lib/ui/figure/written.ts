/** A figure as requests write it: periods in the calendar's own writing. */
import type { Calendar } from '../../core/calendar/calendar';
import type { FigureRef } from '../../core/explain/trace';

export const written = ({ key }: Calendar, ref: FigureRef) =>
	ref.kind === 'line'
		? { ...ref, period: key(ref.period) }
		: { ...ref, from: key(ref.from), to: key(ref.to) };
