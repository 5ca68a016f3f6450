/** A plan with typed cells that are not saved yet: they are put in, and taken out again when they are taken back. */
import { rowKey } from '../engine/row-key';
import type { Span } from '../calendar/spans';
import { NUMBER, type Cell, type Matrix } from '../engine/values';
import { calculateScenario } from '../scenario/assemble';
import {
	layoutOf,
	looksAcrossTotals,
	modelFigures,
	typedCell,
	type Layout,
	type ModelFigures,
	type ModelQuery,
	type ViewRow
} from './model-view';
import { unpackScenario, type ScenarioPackage } from '../scenario/package';
import type { Plan } from '../scenario/plan';
import type { TypedCell } from '../inputs/cell';

export class Preview {
	readonly plan: Plan;
	/** Cells that differ from what is saved, with what is saved there. */
	private readonly saved = new Map<string, TypedCell>();

	/** @throws ModelError for a model that cannot be calculated */
	constructor(parcel: ScenarioPackage) {
		const { structure, data } = unpackScenario(parcel);
		this.plan = calculateScenario(structure, data);
	}

	/** The model's figures with these cells, and no others, typed. */
	figures(edits: readonly TypedCell[], query: ModelQuery): ModelFigures {
		this.type(edits);
		return modelFigures(this.plan, query, this.layout(query));
	}

	/**
	 * Rows whose figures differ from those of `saved` once these cells are typed; of all others there is nothing to say.
	 * @param saved the same query's rows without anything typed
	 */
	changes(edits: readonly TypedCell[], query: ModelQuery, saved: ModelFigures): PreviewChanges {
		const touched = this.touchedBy(edits, query.model);
		const { definition } = this.plan.models.get(query.model)!;
		const { first } = this.plan.calculation.axisOf(query.model);
		// Spans without a touched month are as they were, unless totals look from one to another.
		const all = looksAcrossTotals(definition);
		const reached = ({ from, to }: Span) => from <= touched.to + first && to >= touched.from + first;
		const spans = query.spans.flatMap((span, s) => (all || reached(span) ? [s] : []));
		const narrow = { ...query, spans: spans.map((s) => query.spans[s]), hideEmpty: false };
		const now = modelFigures(this.plan, narrow, this.layout(query), touched.rows);
		const before = this.rowsByKey(saved);
		const rows = now.rows
			.map((r) => widened(r, before.get(r.key), spans, query.spans.length))
			.filter((r) => !query.hideEmpty || r.open !== null || r.cells.some((c) => c !== null));
		const errors = rows.reduce((n, r) => n + errorsIn(r) - errorsIn(before.get(r.key)), saved.errors);
		return { rows: rows.filter((r) => !same(r, before.get(r.key))), errors };
	}

	/** Puts these cells in, takes back all others, and calculates. */
	private type(edits: readonly TypedCell[]): void {
		const wanted = new Map(edits.map((e) => [keyOf(e), e]));
		for (const [key, cell] of this.saved)
			if (!wanted.has(key)) {
				this.set(cell);
				this.saved.delete(key);
			}
		for (const [key, edit] of wanted) {
			if (!this.saved.has(key)) this.saved.set(key, { ...edit, value: this.valueOf(edit) });
			this.set(edit);
		}
		this.plan.calculation.recalculate();
	}

	/** The values of a model's lines with nothing typed. */
	private readonly bases = new Map<string, Map<string, { values: Float64Array; marks: Uint8Array | null }>>();
	/** What of the model holds other values once these cells are typed, and where one of them is. */
	private touchedBy(edits: readonly TypedCell[], model: string): Touched {
		const { calculation } = this.plan;
		const lines = this.plan.models.get(model)!.definition.lines.map((l) => l.code);
		let base = this.bases.get(model);
		if (!base) {
			this.type([]);
			base = new Map(
				lines.map((line) => {
					const { values, marks } = calculation.matrix(model, line);
					return [line, { values: values.slice(), marks: marks?.slice() ?? null }];
				})
			);
			this.bases.set(model, base);
		}
		this.type(edits);
		const touched = { rows: new Uint8Array(calculation.block(model).rows.length), from: Infinity, to: -1 };
		for (const edit of edits) if (edit.block === model) touch(touched, ...this.place(edit));
		for (const line of lines) {
			const reach = calculation.reachOf(model, line);
			if (reach) touchDifferences(touched, calculation.matrix(model, line), base.get(line)!, reach);
		}
		return touched;
	}

	private laid: { query: string; layout: Layout } | null = null;
	private layout(query: ModelQuery): Layout {
		const text = JSON.stringify(query);
		if (this.laid?.query !== text) this.laid = { query: text, layout: layoutOf(this.plan, query) };
		return this.laid.layout;
	}
	private indexed: { figures: ModelFigures; rows: Map<string, ViewRow> } | null = null;
	private rowsByKey(figures: ModelFigures): Map<string, ViewRow> {
		if (this.indexed?.figures !== figures)
			this.indexed = { figures, rows: new Map(figures.rows.map((r) => [r.key, r])) };
		return this.indexed.rows;
	}

	private readonly rowsOf = new Map<string, Map<string, number>>();
	private place({ block, row, period }: TypedCell): [row: number, t: number] {
		const { calculation } = this.plan;
		let rows = this.rowsOf.get(block);
		if (!rows) {
			rows = new Map(calculation.block(block).rows.map((r, i) => [rowKey(r), i]));
			this.rowsOf.set(block, rows);
		}
		return [rows.get(row) ?? -1, period - calculation.axisOf(block).first];
	}
	private valueOf(edit: TypedCell): number | null {
		const cell = typedCell(this.plan, edit.block, edit.line, ...this.place(edit));
		return typeof cell === 'number' ? cell : null;
	}
	private set(edit: TypedCell): void {
		const [row, t] = this.place(edit);
		if (row >= 0 && t >= 0 && t < this.plan.calculation.axisOf(edit.block).length)
			this.plan.inputs.setInput(this.plan.calculation, edit.block, edit.line, row, t, edit.value);
	}
}

export interface PreviewChanges {
	rows: ViewRow[];
	errors: number;
}

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

/** Rows of a model, one byte each, and its first and last period (indexes) in which something differs. */
interface Touched {
	rows: Uint8Array;
	from: number;
	to: number;
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

const keyOf = (e: TypedCell) => [e.block, e.line, e.row, e.period].join('\u0000');
