/** How models were laid out last: a page is opened, asked for the rest of its rows, and opened again, while only figures change. */
import { retiredOf } from '../../core/company/retired';
import type { Structure } from '../../core/company/structure';
import type { Plan } from '../../core/scenario/plan';
import { layoutOf, type Layout, type ModelQuery } from '../../core/views/model-view';

interface Kept {
	structure: Structure;
	layout: Layout;
}
const kept = new WeakMap<Plan['calculation'], Map<string, Kept>>();
/** Of one calculation: a layout of ten thousand rows takes some megabytes. */
const MOST = 4;

/** The plan must have the model. */
export function keptLayout(plan: Plan, query: ModelQuery): Layout {
	const { structure, calculation } = plan;
	const { dimensions } = plan.models.get(query.model)!.definition;
	// Rows with a retired member are shown as long as they hold something.
	if (dimensions.some((d) => retiredOf(structure, d).size > 0)) return layoutOf(plan, query);
	const { model, rows, across, lines, where, open, find } = query;
	const text = JSON.stringify([model, rows, across, lines, where, open, find]);
	const all = kept.get(calculation) ?? new Map<string, Kept>();
	kept.set(calculation, all);
	const have = all.get(text);
	const layout = have?.structure === structure ? have.layout : layoutOf(plan, query);
	all.delete(text);
	all.set(text, { structure, layout });
	if (all.size > MOST) all.delete(all.keys().next().value!);
	return layout;
}
