/** What of a driver model's figures is other once cells are typed. */
import type { Span } from '../calendar/spans';
import { NUMBER, type Cell, type Matrix } from '../engine/values';
import type { TypedCell } from '../inputs/cell';
import type { Plan } from '../scenario/plan';
import {
	looksAcrossTotals,
	modelFigures,
	type Layout,
	type ModelFigures,
	type ModelQuery,
	type ViewRow
} from './model-view';

export interface ModelChanges {
	/** Rows that are other than before, as they are now. */
	rows: ViewRow[];
	/** So many cells more than before hold an error; less than 0 where there are fewer. */
	moreErrors: number;
}

/** Where a cell stands in its block: its row, −1 for none, and an index on the block's axis, which may lie beyond it. */
export const placeIn = (
	{ blocks, calculation }: Plan,
	{ block, row, period }: Omit<TypedCell, 'line' | 'value'>
): [row: number, t: number] => [
	blocks.get(block)?.rowAt(row) ?? -1,
	period - calculation.axisOf(block).first
];

/** The values of a model's lines at one moment. */
export type ModelValues = ReadonlyMap<string, { values: Float64Array; marks: Uint8Array | null }>;

/** A copy; the plan must have the model. */
export function valuesOf({ models, calculation }: Plan, model: string): ModelValues {
	return new Map(
		models.get(model)!.definition.lines.map(({ code }) => {
			const { values, marks } = calculation.matrix(model, code);
			return [code, { values: values.slice(), marks: marks?.slice() ?? null }];
		})
	);
}

/** Rows of a model, one byte each, and its first and last period (indexes) in which something differs. */
interface Touched {
	rows: Uint8Array;
	from: number;
	to: number;
}

/** Rows of figures that typed cells have reached, with those of the query's spans that they have reached. */
export interface Reached {
	/** Of the model, one byte each. */
	touched: Uint8Array;
	/** With a cell for each entry across and reached span. */
	rows: readonly ViewRow[];
	/** Places among the query's. */
	spans: readonly number[];
}

/**
 * The rows of figures that these cells have reached.
 * @param plan calculated with the cells typed
 * @param before the model's values without them
 */
export function reachedBy(
	plan: Plan,
	edits: readonly TypedCell[],
	query: ModelQuery,
	layout: Layout,
	before: ModelValues
): Reached {
	const touched = touchedSince(plan, edits, query.model, before);
	const { definition } = plan.models.get(query.model)!;
	const { first } = plan.calculation.axisOf(query.model);
	// Spans without a touched month are as they were, unless totals look from one to another.
	const all = looksAcrossTotals(definition);
	const reached = ({ from, to }: Span) => from <= touched.to + first && to >= touched.from + first;
	const spans = query.spans.flatMap((span, s) => (all || reached(span) ? [s] : []));
	const narrow = { ...query, spans: spans.map((s) => query.spans[s]), hideEmpty: false };
	const { rows } = modelFigures(plan, narrow, layout, touched.rows);
	return { touched: touched.rows, rows, spans };
}

/**
 * Of the rows that were reached those that are other now.
 * @param saved the rows that the query gives without the cells, at least those that were reached
 */
export function changesIn(
	{ rows: reached, spans }: Reached,
	query: ModelQuery,
	saved: ReadonlyMap<string, ViewRow>
): ModelChanges {
	const rows = reached
		.map((r) => widened(r, saved.get(r.key), spans, query.spans.length))
		.filter((r) => !query.hideEmpty || r.open !== null || r.cells.some((c) => c !== null));
	return {
		rows: rows.filter((r) => !same(r, saved.get(r.key))),
		moreErrors: rows.reduce((n, r) => n + errorsIn(r) - errorsIn(saved.get(r.key)), 0)
	};
}

export const byKey = ({ rows }: Pick<ModelFigures, 'rows'>): ReadonlyMap<string, ViewRow> =>
	new Map(rows.map((r) => [r.key, r]));

function touchedSince(plan: Plan, edits: readonly TypedCell[], model: string, before: ModelValues): Touched {
	const { calculation } = plan;
	const touched = { rows: new Uint8Array(calculation.block(model).rows.length), from: Infinity, to: -1 };
	for (const edit of edits) if (edit.block === model) touch(touched, ...placeIn(plan, edit));
	for (const [line, was] of before) {
		const reach = calculation.reachOf(model, line);
		if (reach) touchDifferences(touched, calculation.matrix(model, line), was, reach);
	}
	return touched;
}
function touch(touched: Touched, row: number, t: number): void {
	touched.rows[row] = 1;
	touched.from = Math.min(touched.from, t);
	touched.to = Math.max(touched.to, t);
}
/** Touches where a matrix differs from what it was, so far as it can. */
function touchDifferences(
	touched: Touched,
	{ values, marks, rows, periods }: Matrix,
	was: { values: Float64Array; marks: Uint8Array | null },
	reach: { from: number; lo: number; hi: number }
): void {
	const end = Math.min(reach.hi, rows);
	const [now, then] = [marks ?? NO_MARKS, was.marks ?? NO_MARKS];
	for (let t = reach.from; t < periods; t++)
		for (let r = reach.lo; r < end; r++) {
			const i = t * rows + r;
			const [a, b] = [values[i], was.values[i]];
			// An error is NaN, which equals nothing: its mark says which it is. Beyond its end an array gives no mark.
			const same = (a === b || (a !== a && b !== b)) && (now[i] ?? NUMBER) === (then[i] ?? NUMBER);
			if (!same) touch(touched, r, t);
		}
}
const NO_MARKS = new Uint8Array(0);

const errorsIn = (row: ViewRow | undefined) => row?.cells.filter((c) => typeof c === 'string').length ?? 0;
const typedOf = (row: ViewRow) => row.typed ?? row.cells;
const same = (a: ViewRow, b: ViewRow | undefined) =>
	b !== undefined &&
	a.cells.every((c, i) => c === b.cells[i]) &&
	typedOf(a).every((c, i) => c === typedOf(b)[i]);

/**
 * A row of which only some spans have been read, with all of them.
 * @param before as it was; a row that was not there was blank
 * @param read places of the spans that have been read, among so many
 */
function widened(row: ViewRow, before: ViewRow | undefined, read: readonly number[], spans: number): ViewRow {
	if (read.length === spans) return row;
	const blank = new Array<Cell>(row.targets.length * spans).fill(null);
	const whole = (cells: readonly Cell[], former: readonly Cell[] = blank) => {
		const list = former.length ? [...former] : [...blank];
		cells.forEach((c, i) => (list[Math.floor(i / read.length) * spans + read[i % read.length]] = c));
		return list;
	};
	const cells = whole(row.cells, before?.cells);
	const typed = whole(typedOf(row), before && typedOf(before));
	return { ...row, cells, typed: typed.every((c, i) => c === cells[i]) ? undefined : typed };
}
