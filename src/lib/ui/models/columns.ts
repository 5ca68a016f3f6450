/** The columns of a driver model's grid, and what each of them shows. */
import type { Calendar } from '../../core/calendar/calendar';
import type { Span } from '../../core/calendar/spans';
import { spanColumn } from '../grid/columns';
import type { GridColumn } from '../grid/types';

/** An entry across, and one of the spans that rows come with. */
export interface Shows {
	entry: number;
	span: number;
}
export interface ModelColumns {
	columns: GridColumn[];
	/** By the column's key. */
	shows: ReadonlyMap<string, Shows>;
}

export const MONTH_WIDTH = 68;
const TOTAL_WIDTH = 88;

export function modelColumns(shown: {
	calendar: Calendar;
	/** Months, or folded quarters. */
	spans: readonly Span[];
	/** The spans that rows come with: months, quarters, and the window last. */
	read: readonly Span[];
	across: readonly { key: string; label: string }[];
	/** Rows are lines, which have formulas. */
	formulas: boolean;
	/** The columns of another scenario, and what this one is called beside it. */
	beside: { columns: readonly GridColumn[]; own: string } | null;
}): ModelColumns {
	const { calendar, spans, read, across, beside } = shown;
	const columns: GridColumn[] = [];
	const shows = new Map<string, Shows>();
	if (shown.formulas)
		columns.push({ key: 'formula', label: 'Formula', width: 170, kind: 'text', frozen: true });
	if (across.length === 1) columns.push({ key: 'shape', label: 'Shape', width: 68, kind: 'shape' });
	across.forEach((member, entry) => {
		const keyOf = (key: string) => acrossKey(member.key, key);
		const group = across.length > 1 ? member.label : beside?.own;
		spans.forEach((span, i) => {
			const column = spanColumn(calendar, span, MONTH_WIDTH);
			const key = keyOf(column.key);
			shows.set(key, { entry, span: read.findIndex((s) => s.from === span.from && s.to === span.to) });
			columns.push({ ...column, key, group, apart: entry > 0 && i === 0 });
		});
		const key = keyOf('total');
		shows.set(key, { entry, span: read.length - 1 });
		columns.push({ key, label: 'Total', group, width: TOTAL_WIDTH, kind: 'figure', apart: true });
	});
	return { columns: [...columns, ...(beside?.columns ?? [])], shows };
}

/** The key of a column of months, or of the total, under a member across. */
export const acrossKey = (member: string, key: string) => (member ? `${member}/${key}` : key);
