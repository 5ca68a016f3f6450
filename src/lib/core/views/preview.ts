/** A plan with typed cells that are not saved yet: they are put in, and taken out again when they are taken back. */
import { calculateScenario } from '../scenario/assemble';
import {
	byKey,
	changesIn,
	placeIn,
	reachedBy,
	valuesOf,
	type ModelChanges,
	type ModelValues
} from './model-changes';
import {
	layoutOf,
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
	changes(edits: readonly TypedCell[], query: ModelQuery, saved: ModelFigures): ModelChanges {
		const before = this.base(query.model);
		this.type(edits);
		const reached = reachedBy(this.plan, edits, query, this.layout(query), before);
		return changesIn(reached, query, this.rowsByKey(saved));
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

	private readonly bases = new Map<string, ModelValues>();
	/** The values of a model's lines with nothing typed. */
	private base(model: string): ModelValues {
		let base = this.bases.get(model);
		if (!base) {
			this.type([]);
			base = valuesOf(this.plan, model);
			this.bases.set(model, base);
		}
		return base;
	}

	private laid: { query: string; layout: Layout } | null = null;
	private layout(query: ModelQuery): Layout {
		const text = JSON.stringify(query);
		if (this.laid?.query !== text) this.laid = { query: text, layout: layoutOf(this.plan, query) };
		return this.laid.layout;
	}
	private indexed: { figures: ModelFigures; rows: ReadonlyMap<string, ViewRow> } | null = null;
	private rowsByKey(figures: ModelFigures): ReadonlyMap<string, ViewRow> {
		if (this.indexed?.figures !== figures) this.indexed = { figures, rows: byKey(figures) };
		return this.indexed.rows;
	}

	private valueOf(edit: TypedCell): number | null {
		const cell = typedCell(this.plan, edit.block, edit.line, ...placeIn(this.plan, edit));
		return typeof cell === 'number' ? cell : null;
	}
	private set(edit: TypedCell): void {
		const [row, t] = placeIn(this.plan, edit);
		if (row >= 0 && t >= 0 && t < this.plan.calculation.axisOf(edit.block).length)
			this.plan.inputs.setInput(this.plan.calculation, edit.block, edit.line, row, t, edit.value);
	}
}

const keyOf = (e: TypedCell) => [e.block, e.line, e.row, e.period].join('\u0000');
