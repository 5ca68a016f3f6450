/** A schedule as it would be with what is typed and not saved yet, for pages that do not calculate it themselves yet. */
import type { RowChange } from '../../core/blocks/schedule/row-changes';
import type { TypedCell, Written } from '../../core/inputs/cell';
import type { Structure } from '../../core/company/structure';
import type { ScenarioData } from '../../core/scenario/data';
import type { Plan } from '../../core/scenario/plan';
import {
	askedBy,
	shownSaved,
	tryRows,
	type ScheduleChanges,
	type Shown
} from '../../core/views/schedule-changes';
import type { ScheduleQuery } from '../../core/views/schedule-view';
import { companyFor } from '../company/structure';
import type { Context } from '../platform/context';
import { cellsRead } from '../scenarios/block-periods';
import { closedToIn } from '../scenarios/individual-pay';
import { AT_ONCE, planWithData } from '../scenarios/plans';
import { mustSee } from '../scenarios/scenarios';
import { scheduleIn, shownOf, type ScheduleRequest } from './schedules';

/**
 * What a schedule shows otherwise with these changes of its rows, and months typed; nothing is saved.
 * @returns null where it is not tried: rows come, go or stand elsewhere, it takes long to calculate, or the user may not
 * see all that schedules hold
 * @throws Refusal 403, 404, 400 for what is no period of the scenario
 */
export async function previewSchedule(
	context: Context,
	{ scenario, ...request }: ScheduleRequest,
	{ changes, edits }: { changes: readonly RowChange[]; edits: readonly Written<TypedCell>[] }
): Promise<ScheduleChanges | null> {
	await companyFor(context, 'read schedules');
	await mustSee(context, scenario);
	const months = await cellsRead(context, scenario, edits);
	if ((await closedToIn(context, scenario)).size) return null;
	const { plan, data } = await planWithData(context.db, scenario);
	scheduleIn(plan, request.schedule);
	const query = shownOf(plan, request, true);
	const shown = keptShown(plan, data, query);
	return tryRows(plan, { rows: changes, months }, query, shown, askedBy(data), AT_ONCE);
}

/** What was shown last of what a scenario is calculated from: who types one figure after the other asks for the same. */
const kept = new WeakMap<ScenarioData, { structure: Structure; text: string; shown: Shown }>();

function keptShown(plan: Plan, data: ScenarioData, query: ScheduleQuery): Shown {
	const { structure } = plan;
	const text = JSON.stringify(query);
	const have = kept.get(data);
	if (have?.text === text && have.structure === structure) return have.shown;
	const shown = shownSaved(plan, query);
	kept.set(data, { structure, text, shown });
	return shown;
}
