/** The columns of a plan's grid. */
import type { Calendar } from '../../core/calendar/calendar';
import type { Span } from '../../core/calendar/spans';
import { isMonth, spanColumn } from '../grid/columns';
import type { GridColumn } from '../grid/types';

/** Before a department's code, in the name of its column. */
const ACROSS = 'department/';
/** The department that a column is for; undefined for any other column. */
export const acrossOf = ({ key }: GridColumn): string | undefined =>
	key.startsWith(ACROSS) ? key.slice(ACROSS.length) : undefined;

export interface PlanColumns {
	calendar: Calendar;
	/** Months, or folded quarters. */
	spans: readonly Span[];
	/** Departments that stand across, instead of months. */
	across: readonly { code: string; name: string }[] | null;
	/** Columns of another scenario. */
	beside: readonly GridColumn[];
	/** Rows tell what they come from. */
	bases: boolean;
	/** Rows tell what their basis gives and what is typed on top. */
	onTop: boolean;
	targets: boolean;
	monthWidth: number;
	totalWidth: number;
}

export function planColumns(shown: PlanColumns): GridColumn[] {
	const { calendar, spans, across, monthWidth, totalWidth } = shown;
	const figure = (key: string, label: string, least: number, apart = false): GridColumn => ({
		key,
		label,
		width: Math.max(least, totalWidth),
		kind: 'figure',
		...(apart ? { apart } : {})
	});
	return [
		{ key: 'shape', label: 'Shape', width: 68, kind: 'shape' },
		...(shown.bases ? [{ key: 'basis', label: 'Basis', width: 118, kind: 'text' as const }] : []),
		...(across
			? across.map((d) => figure(ACROSS + d.code, d.name, 12 + 7 * d.name.length))
			: spans.map((span) => spanColumn(calendar, span, isMonth(span) ? monthWidth : totalWidth))),
		figure('total', 'Total', 0, true),
		...shown.beside,
		figure('lastYear', 'Year before', 84, shown.beside.length > 0),
		figure('change', 'Change', 76),
		{ key: 'percent', label: '%', width: 64, kind: 'text', align: 'right' },
		...(shown.targets ? [figure('target', 'Target', 84, true), figure('gap', 'Gap', 76)] : []),
		...(shown.onTop
			? [figure('basisTotal', 'Basis gives', 84, true), figure('over', 'Typed on top', 92)]
			: [])
	];
}
