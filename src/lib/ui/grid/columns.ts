/** Columns of periods, and rows as a tree. */
import type { Calendar } from '../../core/calendar/calendar';
import type { Span } from '../../core/calendar/spans';
import type { GridColumn, GridRow } from './types';

export const isMonth = (span: Span) => span.from === span.to;

/** The key of a span: `2026-10`, or `2026-10..2026-12`. */
export const spanKey = (calendar: Calendar, { from, to }: Span) =>
	from === to ? calendar.key(from) : `${calendar.key(from)}..${calendar.key(to)}`;

/** `Oct`, or `Q3` for a folded quarter. */
export const spanLabel = (calendar: Calendar, span: Span) =>
	isMonth(span)
		? calendar.shortLabel(span.from)
		: `Q${calendar.quarter(span.from)} ${calendar.yearLabel(calendar.fiscalYear(span.from))}`;

export function spanColumn(calendar: Calendar, span: Span, width: number): GridColumn {
	return {
		key: spanKey(calendar, span),
		label: spanLabel(calendar, span),
		width: isMonth(span) ? width : Math.max(width, 76),
		kind: 'figure',
		span
	};
}

/** Rows that follow their parents, each with its depth, as a tree. */
export function nested(rows: readonly { depth: number; row: GridRow }[]): GridRow[] {
	const roots: GridRow[] = [];
	const path: GridRow[] = [];
	for (const { depth, row } of rows) {
		path.length = Math.min(path.length, depth);
		const parent = path.at(-1);
		if (parent) (parent.rows ??= []).push(row);
		else roots.push(row);
		path.push(row);
	}
	return roots;
}
