/** Calculates what is typed or designed and not saved yet, in a thread of the browser, on the same core as the server. */
import { expose } from 'comlink';
import { buildScenario } from '../../core/scenario/assemble';
import type { ModelDefinition } from '../../core/blocks/driver-model/schema';
import { modelFigures, type ModelFigures, type ModelQuery } from '../../core/views/model-view';
import { packageFromBytes, unpackScenario } from '../../core/scenario/package';
import type { ModelChanges } from '../../core/views/model-changes';
import { Preview } from '../../core/views/preview';
import type { TypedCell } from '../../core/inputs/cell';

/** What would take longer than this (nanoseconds, at the worst) is not tried while somebody types. */
const MOST_COST = 2_000_000_000;

let parcel = new ArrayBuffer(0);
let preview: Preview | null = null;
/** What is saved, as the last query shows it. */
let saved: { query: string; figures: ModelFigures } | null = null;

const work = {
	load(bytes: ArrayBuffer): void {
		parcel = bytes;
		preview = null;
		saved = null;
	},

	/** What differs from the saved figures with these cells typed. */
	changes(edits: TypedCell[], query: ModelQuery): ModelChanges {
		preview ??= new Preview(packageFromBytes(parcel));
		const text = JSON.stringify(query);
		if (saved?.query !== text) saved = { query: text, figures: preview.figures([], query) };
		return preview.changes(edits, query, saved.figures);
	},

	/**
	 * A model's figures in another form of it.
	 * @throws ModelError for a definition that cannot be calculated
	 */
	designed(definition: ModelDefinition, query: ModelQuery): ModelFigures {
		const { structure, data } = unpackScenario(packageFromBytes(parcel));
		const models = data.models.map((m) => (m.definition.code === definition.code ? { ...m, definition } : m));
		const plan = buildScenario(structure, { ...data, models });
		if (plan.calculation.cost > MOST_COST)
			throw new Error('This takes long to calculate; its figures are shown once it is saved.');
		plan.calculation.calculate();
		return modelFigures(plan, query);
	}
};
export type PreviewWork = typeof work;
expose(work);
