/** A figure as it leaves the program: its periods are written by the calendar of the block in which it stands. */
import type { Calendar } from '../calendar/calendar';
import { fromWriting, inWriting, type Written } from '../calendar/writing';
import { ACCOUNTS_BLOCK } from '../engine/spec';
import type { FigureView } from './figure';
import type { FigureRef, Trace } from './trace';

const NAMES = ['from', 'to', 'period'] as const;
type Names = (typeof NAMES)[number];
export type WrittenRef = Written<FigureRef, Names>;
export type WrittenFigure = Written<FigureView, Names>;
/** In whose periods figures of a block are named: those of the scenario that is looked at. */
export type CalendarIn = (block: string) => Calendar;

/** The block whose calendar names a figure: the one in whose periods it is seen, or its own. */
export const namedBy = (ref: { in?: string; kind: FigureRef['kind']; model?: string }): string =>
	ref.in ?? (ref.kind === 'line' ? ref.model! : ACCOUNTS_BLOCK);

export const writeRef = (ref: FigureRef, calendarIn: CalendarIn): WrittenRef =>
	inWriting(calendarIn(namedBy(ref)), ref, NAMES);
export const readRef = (ref: WrittenRef, calendarIn: CalendarIn): FigureRef =>
	fromWriting<FigureRef, Names>(calendarIn(namedBy(ref)), ref, NAMES);

/** Turns each figure that a trace leads to by its own calendar, the rest by that of the figure itself. */
function turnTrace<From extends { ref: unknown; explanations: unknown[] }, Ref>(
	trace: From,
	turnRef: (ref: Ref) => unknown,
	turnRest: (value: unknown) => unknown
): unknown {
	const { ref, explanations, ...rest } = trace;
	const led = <P extends { ref: Ref | null }>({ ref: to, ...part }: P) => ({
		ref: to === null ? null : turnRef(to),
		...(turnRest(part) as object)
	});
	return {
		ref: turnRef(ref as Ref),
		explanations: (explanations as { parts?: { ref: Ref | null }[]; operands?: { ref: Ref | null }[] }[]).map(
			({ parts, operands, ...e }) => ({
				...(turnRest(e) as object),
				...(parts ? { parts: parts.map(led) } : {}),
				...(operands ? { operands: operands.map(led) } : {})
			})
		),
		...(turnRest(rest) as object)
	};
}

export function writeFigure(view: FigureView, calendarIn: CalendarIn): WrittenFigure {
	const calendar = calendarIn(namedBy(view.trace.ref));
	return {
		...view,
		trace: turnTrace<Trace, FigureRef>(
			view.trace,
			(ref) => writeRef(ref, calendarIn),
			(value) => inWriting(calendar, value, NAMES)
		)
	} as WrittenFigure;
}
export function readFigure(view: WrittenFigure, calendarIn: CalendarIn): FigureView {
	const calendar = calendarIn(namedBy(view.trace.ref));
	return {
		...view,
		trace: turnTrace<WrittenFigure['trace'], WrittenRef>(
			view.trace,
			(ref) => readRef(ref, calendarIn),
			(value) => fromWriting(calendar, value as never, NAMES)
		)
	} as FigureView;
}
