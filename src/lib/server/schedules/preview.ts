/** A schedule as it would be with what is typed and not saved yet, for pages that do not calculate it themselves yet. */
import type { RowChange } from '../../core/blocks/schedule/row-changes';
import type { TypedCell, Written } from '../../core/inputs/cell';
import { askedBy, tryRows, type ScheduleChanges } from '../../core/views/schedule-changes';
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
	return tryRows(plan, { rows: changes, months }, shownOf(plan, request, true), askedBy(data), AT_ONCE);
}
