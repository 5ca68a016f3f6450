/** The columns of a schedule's grid: what stands in its rows, then the periods of a line. */
import { DIVIDED } from '../../core/blocks/schedule/row-changes';
import {
	departmentColumn,
	type ScheduleColumn,
	type ScheduleDefinition
} from '../../core/blocks/schedule/schema';
import type { Calendar } from '../../core/calendar/calendar';
import type { Span } from '../../core/calendar/spans';
import { spanColumn } from '../grid/columns';
import type { GridColumn } from '../grid/types';

const MONTH_WIDTH = 68;
const TOTAL_WIDTH = 88;
/** Pixels by what a column holds. */
const WIDTHS: Partial<Record<ScheduleColumn['kind'], number>> = {
	text: 140,
	date: 92,
	money: 84,
	number: 72,
	percent: 66,
	'yes-no': 66,
	pick: 104,
	department: 128,
	account: 150,
	member: 116,
	row: 130
};
/** Of a heading in pixels: a letter, and what is beside it. */
const [LETTER, ROOM] = [7.5, 18];
/** So many columns are shown unless it is said otherwise: the months are to be in sight too. */
const USUAL = 5;

/** Something that stands in rows: a column, or the departments over which they are divided. */
export interface RowColumn {
	code: string;
	label: string;
	/** Null for the departments. */
	column: ScheduleColumn | null;
}

/** All of them in their order. */
export function rowColumns(definition: ScheduleDefinition): RowColumn[] {
	const department = departmentColumn(definition);
	return definition.columns.flatMap((column) => [
		{ code: column.code, label: column.label, column },
		...(definition.divided && column === department
			? [{ code: DIVIDED, label: 'Divided with', column: null }]
			: [])
	]);
}

/** Those that are shown: as they are chosen, else the first few. */
export function shownColumns(definition: ScheduleDefinition, chosen: readonly string[]): RowColumn[] {
	const all = rowColumns(definition);
	const wanted = chosen.flatMap((code) => all.find((c) => c.code === code) ?? []);
	if (wanted.length) return wanted;
	return all.filter((c) => c.column !== null).slice(0, USUAL);
}

const FIGURES: readonly ScheduleColumn['kind'][] = ['money', 'number', 'percent'];
export const holdsFigures = ({ kind }: ScheduleColumn) => FIGURES.includes(kind);

export interface ScheduleColumns {
	columns: GridColumn[];
	/** By the key of a column of periods, its place among the spans that rows come with. */
	spanAt: ReadonlyMap<string, number>;
}

export function scheduleColumns(shown: {
	calendar: Calendar;
	columns: readonly RowColumn[];
	/** Periods, or folded quarters. */
	spans: readonly Span[];
	/** The spans that rows come with: periods, quarters, and the window last. */
	read: readonly Span[];
}): ScheduleColumns {
	const { calendar, spans, read } = shown;
	const spanAt = new Map<string, number>();
	const columns: GridColumn[] = shown.columns.map(({ code, label, column }, i) => {
		const head = column?.unit ? `${label}, ${column.unit}` : label;
		return {
			key: code,
			label: head,
			width: Math.max((column && WIDTHS[column.kind]) ?? 150, head.length * LETTER + ROOM),
			kind: column && holdsFigures(column) ? 'figure' : 'text',
			frozen: i === 0
		};
	});
	for (const [i, span] of spans.entries()) {
		const column = spanColumn(calendar, span, MONTH_WIDTH);
		spanAt.set(
			column.key,
			read.findIndex((s) => s.from === span.from && s.to === span.to)
		);
		columns.push({ ...column, apart: i === 0 });
	}
	spanAt.set('total', read.length - 1);
	columns.push({ key: 'total', label: 'Total', width: TOTAL_WIDTH, kind: 'figure', apart: true });
	return { columns, spanAt };
}
