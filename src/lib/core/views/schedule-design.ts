/** What a schedule would give in another form of it. */
import type { ScheduleDefinition } from '../blocks/schedule/schema';
import { buildScenario } from '../scenario/assemble';
import { unpackScenario, type ScenarioPackage } from '../scenario/package';
import { scheduleFigures, type ScheduleFigures, type ScheduleQuery } from './schedule-view';

/** What would take longer than this (nanoseconds, at the worst) is not tried while somebody types. */
const MOST_COST = 2_000_000_000;

/**
 * A schedule's figures in a form that is not saved yet, over the rows that are there.
 * @param renamed codes of columns that have got another: old → new
 * @throws ModelError for a form that cannot be calculated; Error for what would take too long
 */
export function designedSchedule(
	parcel: ScenarioPackage,
	definition: ScheduleDefinition,
	renamed: Readonly<Record<string, string>>,
	query: ScheduleQuery
): ScheduleFigures {
	const { structure, data } = unpackScenario(parcel);
	const schedules = data.schedules!.map((s) => {
		if (s.definition.code !== definition.code) return s;
		const rows = s.rows.map((row) => ({
			...row,
			values: Object.fromEntries(
				Object.entries(row.values).map(([code, value]) => [renamed[code] ?? code, value])
			)
		}));
		return { definition, rows };
	});
	const plan = buildScenario(structure, { ...data, schedules });
	if (plan.calculation.cost > MOST_COST)
		throw new Error('This takes long to calculate; its figures are shown once it is saved.');
	plan.calculation.calculate();
	return scheduleFigures(plan, query);
}
