/** A plan with typed cells that are not saved yet: they are put in, and taken out again when they are taken back. */
import { rowKey } from '../model/schema';
import { calculateScenario } from './assemble';
import {
	layoutOf,
	modelFigures,
	typedCell,
	type Layout,
	type ModelFigures,
	type ModelQuery,
	type ViewRow
} from './model-view';
import { unpackScenario, type ScenarioPackage } from './package';
import type { Plan } from './scenario';

/** A typed input of a driver model; `period` is an ordinal, null makes it blank. */
export interface PreviewEdit {
	line: string;
	row: string;
	period: number;
	value: number | null;
}

export class Preview {
	readonly plan: Plan;
	/** Cells that differ from what is saved, with what is saved there. */
	private readonly saved = new Map<string, PreviewEdit>();

	/** @throws ModelError for a model that cannot be calculated */
	constructor(parcel: ScenarioPackage) {
		const { structure, data } = unpackScenario(parcel);
		this.plan = calculateScenario(structure, data);
	}

	/** The model's figures with these cells, and no others, typed. */
	figures(edits: readonly PreviewEdit[], query: ModelQuery): ModelFigures {
		this.type(edits, query.model);
		return modelFigures(this.plan, query, this.layout(query));
	}

	/**
	 * Rows whose figures differ from those of `saved` once these cells are typed; of all others there is nothing to say.
	 * @param saved the same query's rows without anything typed
	 */
	changes(edits: readonly PreviewEdit[], query: ModelQuery, saved: ModelFigures): PreviewChanges {
		const touched = this.touchedBy(edits, query.model);
		const now = modelFigures(this.plan, query, this.layout(query), touched);
		const before = this.rowsByKey(saved);
		const same = (a: ViewRow, b: ViewRow | undefined) =>
			b !== undefined && a.cells.every((c, i) => c === b.cells[i]) && sameTyped(a, b);
		const errorsBefore = now.rows.reduce((n, r) => n + errorsIn(before.get(r.key)), 0);
		return {
			rows: now.rows.filter((r) => !same(r, before.get(r.key))),
			errors: saved.errors - errorsBefore + now.errors
		};
	}

	/** Puts these cells in, takes back all others, and calculates. */
	private type(edits: readonly PreviewEdit[], model: string): void {
		const wanted = new Map(edits.map((e) => [keyOf(e), e]));
		for (const [key, cell] of this.saved)
			if (!wanted.has(key)) {
				this.set(model, cell);
				this.saved.delete(key);
			}
		for (const [key, edit] of wanted) {
			if (!this.saved.has(key)) this.saved.set(key, { ...edit, value: this.valueOf(model, edit) });
			this.set(model, edit);
		}
		this.plan.calculation.recalculate();
	}

	/** The values of a model's lines with nothing typed. */
	private readonly bases = new Map<string, Map<string, { values: Float64Array; marks: Uint8Array | null }>>();
	/** Rows of the model that hold other values once these cells are typed, or where one of them is. */
	private touchedBy(edits: readonly PreviewEdit[], model: string): Uint8Array {
		const { calculation } = this.plan;
		const lines = this.plan.models.get(model)!.definition.lines.map((l) => l.code);
		let base = this.bases.get(model);
		if (!base) {
			this.type([], model);
			base = new Map(
				lines.map((line) => {
					const { values, marks } = calculation.matrix(model, line);
					return [line, { values: values.slice(), marks: marks?.slice() ?? null }];
				})
			);
			this.bases.set(model, base);
		}
		this.type(edits, model);
		const touched = new Uint8Array(calculation.block(model).rows.length);
		for (const edit of edits) touched[this.place(model, edit)[0]] = 1;
		for (const line of lines) {
			const { values, marks, rows } = calculation.matrix(model, line);
			const was = base.get(line)!;
			touchRows(touched, rows, values, was.values);
			if (marks || was.marks) {
				const none = new Uint8Array(values.length);
				touchRows(touched, rows, marks ?? none, was.marks ?? none);
			}
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
	private place(model: string, { row, period }: PreviewEdit): [row: number, t: number] {
		const { calculation } = this.plan;
		let rows = this.rowsOf.get(model);
		if (!rows) {
			rows = new Map(calculation.block(model).rows.map((r, i) => [rowKey(r), i]));
			this.rowsOf.set(model, rows);
		}
		return [rows.get(row) ?? -1, period - calculation.axis.first];
	}
	private valueOf(model: string, edit: PreviewEdit): number | null {
		const cell = typedCell(this.plan, model, edit.line, ...this.place(model, edit));
		return typeof cell === 'number' ? cell : null;
	}
	private set(model: string, edit: PreviewEdit): void {
		const [row, t] = this.place(model, edit);
		if (row >= 0 && t >= 0 && t < this.plan.calculation.axis.length)
			this.plan.inputs.setInput(this.plan.calculation, model, edit.line, row, t, edit.value);
	}
}

export interface PreviewChanges {
	rows: ViewRow[];
	errors: number;
}

const errorsIn = (row: ViewRow | undefined) => row?.cells.filter((c) => typeof c === 'string').length ?? 0;
const sameTyped = (a: ViewRow, b: ViewRow) =>
	(a.typed ?? a.cells).every((c, i) => c === (b.typed ?? b.cells)[i]);

/** Rows in which two matrices differ; an error equals nothing, itself neither, so that its row counts as touched. */
function touchRows(
	touched: Uint8Array,
	rows: number,
	now: Float64Array | Uint8Array,
	was: Float64Array | Uint8Array
): void {
	for (let from = 0; from < now.length; from += rows)
		for (let r = 0; r < rows; r++) if (now[from + r] !== was[from + r]) touched[r] = 1;
}

const keyOf = (e: PreviewEdit) => `${e.line}\u0000${e.row}\u0000${e.period}`;
