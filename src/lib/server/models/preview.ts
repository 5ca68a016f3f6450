/** A driver model as it would be with what is typed and not saved yet, for pages that do not calculate it themselves yet. */
import type { TypedCell, Written } from '../../core/inputs/cell';
import { tryTyped } from '../../core/scenario/type-cells';
import { byKey, changesIn, reachedBy, valuesOf, type ModelChanges } from '../../core/views/model-changes';
import { modelFigures } from '../../core/views/model-view';
import { cellsRead } from '../scenarios/block-periods';
import { closedToIn } from '../scenarios/individual-pay';
import { AT_ONCE, planOf } from '../scenarios/plans';
import type { Context } from '../platform/context';
import { keptLayout } from './layouts';
import { modelOf, requestRead, shownOf, type WrittenRequest } from './models';

/**
 * Of the rows shown those that would be other with these cells of the model typed; cells that cannot be typed change
 * nothing, and nothing is saved.
 * @returns null where it is not tried: it takes long to calculate, or the user may not see all that schedules hold, and
 * could tell it from what follows
 * @throws Refusal 403, 404, 400 for what is no period of the model
 */
export async function previewModel(
	context: Context,
	request: WrittenRequest,
	written: readonly Omit<Written<TypedCell>, 'block'>[]
): Promise<ModelChanges | null> {
	const { db } = context;
	const wanted = await requestRead(context, request);
	const edits = await cellsRead(
		context,
		wanted.scenario,
		written.map((cell) => ({ ...cell, block: wanted.model }))
	);
	if ((await closedToIn(context, wanted.scenario)).size) return null;
	const plan = await planOf(db, wanted.scenario);
	modelOf(plan, wanted.model);
	const query = shownOf(plan, wanted);
	const layout = keptLayout(plan, query);
	const before = valuesOf(plan, wanted.model);
	const reached = tryTyped(
		plan,
		{ cells: edits },
		() => reachedBy(plan, edits, query, layout, before),
		AT_ONCE
	);
	return reached && changesIn(reached, query, byKey(modelFigures(plan, query, layout, reached.touched)));
}
