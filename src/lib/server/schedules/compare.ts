/** A schedule beside what it is in another scenario: which rows are new, gone or different, and what that comes to. */
import {
	compareRows,
	type ComparedRow,
	type ComparedSchedule,
	type ComparedSide
} from '../../core/analysis/compare-rows';
import { withoutPersonal } from '../../core/blocks/schedule/personal';
import { departmentsOf } from '../../core/blocks/schedule/shape';
import { departmentColumn, type ScenarioSchedule } from '../../core/blocks/schedule/schema';
import type { Structure } from '../../core/company/structure';
import type { Plan } from '../../core/scenario/plan';
import { companyFor } from '../company/structure';
import { mayRead } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';
import type { Context } from '../platform/context';
import { Refusal } from '../platform/refusal';
import { keptFrom } from '../scenarios/individual-pay';
import { planOf } from '../scenarios/plans';
import { seesAllRows, seesRow } from '../scenarios/schedule-readers';
import { mustSee } from '../scenarios/scenarios';
import { readSchedule, withinReach, type ScheduleRequest } from './schedules';

/** Most rows that are told one by one. */
const MOST = 500;

/**
 * @param asked the schedule as it is shown, with its window, line and department
 * @throws Refusal 403; 404 where the other scenario has no such schedule
 */
export async function compareSchedule(
	context: Context,
	asked: ScheduleRequest,
	other: string
): Promise<ComparedSchedule> {
	const { db, user } = context;
	const { structure } = await companyFor(context, 'read schedules');
	const [plan, there] = await Promise.all(
		[asked.scenario, other].map(async (code) => {
			await mustSee(context, code);
			return planOf(db, code);
		})
	);
	const { name } = there.scenario;
	if (!there.schedules.has(asked.schedule))
		throw new Refusal(404, `“${name}” has no schedule “${asked.schedule}” to compare with.`);
	const { department, from, to, schedule } = asked;
	const shown = await readSchedule(context, asked);
	const { line } = shown;
	const beside = await readSchedule(context, { scenario: other, schedule, department, from, to, line });
	const [a, b] = [plan, there].map((p) => sideFor(user, structure, p, schedule));
	const counting = new Set([a, b].flatMap((side) => idsIn(side, structure, department ?? null)));
	const rows = compareRows(a, b).filter((r) => counting.has(r.id));
	const count = (what: ComparedRow['what']) => rows.filter((r) => r.what === what).length;
	return {
		scenario: other,
		name,
		counts: { new: count('new'), gone: count('gone'), different: count('different') },
		rows: rows.slice(0, MOST),
		line,
		totals: {
			here: shown.totals.at(-1) ?? null,
			there: beside.line === line ? (beside.totals.at(-1) ?? null) : null
		}
	};
}

/** Rows that count in a department, or under it. */
const idsIn = (
	{ schedule: { definition, rows } }: ComparedSide,
	{ departments }: Structure,
	department: string | null
): string[] =>
	rows.flatMap((row) => {
		const own = departmentsOf(definition, row);
		const counts =
			department === null ||
			!departmentColumn(definition) ||
			(own.length === 0 && departments.roots.some((d) => d.code === department)) ||
			own.some((d) => departments.within(d, department));
		return counts ? [row.id] : [];
	});

/** Rows that the user sees, without what tells individual pay, and without departments that they do not read. */
function sideFor(user: User, structure: Structure, plan: Plan, code: string): ComparedSide {
	const whole = plan.schedules.get(code)!;
	const personal = keptFrom(
		user,
		[...plan.schedules.values()].map((s) => s.definition),
		structure
	);
	const schedule: ScenarioSchedule = withoutPersonal(whole, personal);
	if (seesAllRows(user, structure)) return { plan, schedule };
	const reads = (department: string) => mayRead(user, department, structure.departments);
	const rows = schedule.rows
		.filter((row) => seesRow(user, structure, schedule.definition, row))
		.map((row) => withinReach(schedule.definition, row, reads));
	return { plan, schedule: { ...schedule, rows } };
}
