/** Another scenario's columns and figures beside those of a grid. */
import type { Calendar } from '../../core/calendar/calendar';
import type { Span } from '../../core/calendar/spans';
import type { Cell } from '../../core/engine/values';
import { spanColumn } from '../grid/columns';
import type { GridColumn } from '../grid/types';

const PREFIX = '@beside/';

/** Columns of the same months and their total for the other scenario. */
export function besideColumns(
	calendar: Calendar,
	spans: readonly Span[],
	shown: { name: string; difference: boolean },
	width: number
): GridColumn[] {
	const group = shown.difference ? `Difference to ${shown.name}` : shown.name;
	return [
		...spans.map((span, i): GridColumn => {
			const column = spanColumn(calendar, span, width);
			return { ...column, key: PREFIX + column.key, group, apart: i === 0 };
		}),
		{
			key: `${PREFIX}total`,
			label: 'Total',
			group,
			width: width + 20,
			kind: 'figure',
			apart: true
		}
	];
}

/** The key of the own column that one of another scenario stands for; null for any other column. */
export const besideKey = (key: string): string | null =>
	key.startsWith(PREFIX) ? key.slice(PREFIX.length) : null;

/**
 * What stands beside a figure: the other scenario's own, or the difference to it. There is no difference where the
 * other scenario does not reach: it would be taken for a change.
 */
export function besideValue(
	own: Cell,
	theirs: Cell,
	difference: boolean,
	span: Span,
	{ last }: { last: number }
): Cell {
	if (!difference) return theirs;
	return span.to > last ? null : less(own, theirs);
}

/** One figure less another; blank counts as nothing, unless both are; an error stays. */
export function less(a: Cell, b: Cell): Cell {
	if (typeof a === 'string') return a;
	if (typeof b === 'string') return b;
	return a === null && b === null ? null : (a ?? 0) - (b ?? 0);
}
