/** A plan with typed cells that are not saved yet: they are put in, and taken out again when they are taken back. */
import { rowKey } from '../model/schema';
import { calculateScenario } from './assemble';
import { modelFigures, typedCell, type ModelFigures, type ModelQuery, type ViewRow } from './model-view';
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
		const wanted = new Map(edits.map((e) => [keyOf(e), e]));
		for (const [key, cell] of this.saved)
			if (!wanted.has(key)) {
				this.set(query.model, cell);
				this.saved.delete(key);
			}
		for (const [key, edit] of wanted) {
			if (!this.saved.has(key)) this.saved.set(key, { ...edit, value: this.valueOf(query.model, edit) });
			this.set(query.model, edit);
		}
		this.plan.calculation.recalculate();
		return modelFigures(this.plan, query);
	}

	/**
	 * Rows whose figures differ from those of `saved` once these cells are typed; of all others there is nothing to say.
	 * @param saved the same query's rows without anything typed
	 */
	changes(edits: readonly PreviewEdit[], query: ModelQuery, saved: ModelFigures): PreviewChanges {
		const now = this.figures(edits, query);
		const before = new Map(saved.rows.map((r) => [r.key, r]));
		const same = (a: ViewRow, b: ViewRow | undefined) =>
			b !== undefined && a.cells.every((c, i) => c === b.cells[i]) && sameTyped(a, b);
		return {
			rows: now.rows.filter((r) => !same(r, before.get(r.key))),
			errors: now.errors
		};
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

const sameTyped = (a: ViewRow, b: ViewRow) =>
	(a.typed ?? a.cells).every((c, i) => c === (b.typed ?? b.cells)[i]);

const keyOf = (e: PreviewEdit) => `${e.line}\u0000${e.row}\u0000${e.period}`;
