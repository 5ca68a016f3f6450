/** A department's plan: accounts × months. */
import type { Calendar } from '../../core/calendar/calendar';
import { currencyIn, moneyView, type MoneyView } from '../../core/currency/view';
import type { Plan } from '../../core/scenario/plan';
import { calendarIn } from '../scenarios/block-periods';
import { firstOpen } from '../../core/scenario/assemble';
import { spanOnto } from '../../core/calendar/onto';
import type { AnyCalendarSpec } from '../../core/calendar/spec';
import { inOwnPeriods, scenarioCalendar } from '../../core/scenario/calendar';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import { isFault } from '../../core/engine/values';
import type { Basis } from '../../core/inputs/basis';
import { planFault } from '../../core/company/chart';
import { basisFaults } from '../../core/blocks/accounts/check-basis';
import { planRows, type PlanRow } from '../../core/views/plan-rows';
import { may, mustMay, mustRead } from '../platform/auth/policy';
import type { CellEdit } from '../../core/inputs/cell';
import { writeCells, type SavedAs } from '../scenarios/cells';
import { isByPeriod, marksIn, type PeriodMark } from '../scenarios/cell-marks';
import { storeBasis } from '../company/subjects/scenario/bases';
import { note } from '../company/journal';
import { driversOf, type BasisDriver } from './basis-drivers';
import { Refusal } from '../platform/refusal';
import { planOf } from '../scenarios/plans';
import { mustSee, touchScenario, writableScenario } from '../scenarios/scenarios';
import { companyState } from '../company/structure';
import { rightIn } from './money-right';
import { targetOf } from './targets';
import { editRights, markDrafting, type EditRight } from '../rounds/submissions';
import { asOne, type Context } from '../platform/context';

export interface DepartmentPlan {
	rows: PlanRow[];
	/** First open month (ordinal); earlier ones are closed. */
	open: number;
	/** Last month that can be planned. */
	last: number;
	right: EditRight;
	/** In whose periods the plan stands; all of this is in them. */
	calendar: AnyCalendarSpec;
	/** Whether this user may plan it, or a department under it. */
	plans: boolean;
	/** The scenario that holds the targets. */
	target: { code: string; name: string } | null;
	/** Cells whose value is an error. */
	errors: number;
	/** Lines of driver models that a basis may name, or names already (`model.line`). */
	drivers: BasisDriver[];
	/** Notes, items and attachments on cells of this department. */
	marks: PeriodMark[];
	/** How the figures are shown, in which currency: null for departments of several, each as it is. */
	money: MoneyView;
	currency: string | null;
	/** Whether others may be chosen. */
	choosesDrivers: boolean;
}

/**
 * In whose periods a plan is answered: its own, or those of another scenario that it stands beside.
 * @throws Refusal 404 for a scenario that the user may not see
 */
export async function periodsLike(context: Context, plan: Plan, like: string | null): Promise<Calendar> {
	if (like === null) return plan.structure.calendar;
	await mustSee(context, like);
	return calendarIn(context.db, like);
}

/**
 * @param from,to of the company's periods; all of the answer is in the plan's own, or in those of the scenario `like`
 */
export async function readDepartmentPlan(
	context: Context,
	scenario: string,
	department: string,
	from: number,
	to: number,
	like: string | null = null,
	asked: MoneyView | null = null
): Promise<DepartmentPlan> {
	const { db, user } = context;
	const { structure } = await companyState(db);
	mustRead(user, department, structure.departments);
	await mustSee(context, scenario);
	const plan = await planOf(db, scenario);
	const target = await targetOf(context, scenario);
	const set = target && (await planOf(db, target.code));
	const rightTo = await editRights(context, scenario);
	const calendar = await periodsLike(context, plan, like);
	const money = moneyView(structure, department, asked);
	const rows = planRows(plan, {
		department,
		money,
		calendar,
		window: spanOnto(calendar, structure.calendar, { from, to }),
		target: set,
		mayPlan: (d) => rightTo(d).editable
	});
	return {
		rows,
		calendar: calendar.spec,
		open: plan.open,
		last: plan.scenario.last,
		target,
		money,
		currency: currencyIn(structure, department, money),
		right: rightIn(structure, department, money, rightTo(department)),
		plans: structure.departments.leaves(department).some((d) => rightTo(d.code).editable),
		errors: rows.reduce((n, r) => n + r.cells.filter(isFault).length, 0),
		marks: structure.departments.isLeaf(department)
			? (await marksIn(db, scenario, ACCOUNTS_BLOCK, department)).filter(isByPeriod)
			: [],
		drivers: driversOf(plan, user, rows),
		choosesDrivers: may(user, 'see driver models', structure.departments)
	};
}

/** Rights to edit departments, one by one. @throws Refusal for the first that may not be edited */
async function mustEdit(
	context: Context,
	scenario: string,
	departments: Iterable<string>
): Promise<Map<string, EditRight>> {
	const { db, user } = context;
	const { structure } = await companyState(db);
	const rights = new Map<string, EditRight>();
	for (const department of departments) mustRead(user, department, structure.departments);
	await mustSee(context, scenario);
	await writableScenario(db, scenario);
	const rightTo = await editRights(context, scenario);
	for (const department of departments) {
		const right = rightTo(department);
		if (!right.editable) throw new Refusal(403, right.reason);
		rights.set(department, right);
	}
	return rights;
}

/**
 * Saves typed accounts of departments, all or none; answers how many changed.
 * @throws Refusal 403, 404 for a department that may not be edited, 422 for a cell that takes no plan, 409 with the
 * cells that somebody else has changed
 */
export async function saveAccounts(
	context: Context,
	scenario: string,
	edits: readonly CellEdit[],
	as: SavedAs
): Promise<number> {
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const rights = await mustEdit(within, scenario, new Set(edits.map((e) => e.row)));
		const state = await companyState(trx);
		const { accounts } = state.structure;
		const kept = await writableScenario(trx, scenario);
		const own = inOwnPeriods(kept, state.calendar);
		const calendar = scenarioCalendar(state.calendar, kept);
		const open = firstOpen(own);
		for (const e of edits) {
			const fault = planFault(accounts, e.line);
			if (fault) throw new Refusal(422, `${fault} It cannot be typed.`);
			if (e.period < open || e.period > own.last)
				throw new Refusal(
					422,
					`${calendar.longLabel(e.period)} is ${e.period < open ? 'closed' : `beyond the scenario’s last ${calendar.words.one}`} and cannot be typed.`
				);
		}
		const count = await writeCells(trx, scenario, edits, context.user.email, as);
		if (count) for (const [department, right] of rights) await markDrafting(within, right, department);
		return count;
	});
}

/** Words for a basis, for the journal. */
const basisText = (b: Basis | null) => (b === null ? '' : JSON.stringify(b));

/** Chooses how an account in a department gets its plan. Typed values stay, as overrides. */
export async function saveBasis(
	context: Context,
	scenario: string,
	department: string,
	account: string,
	basis: Basis
): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const rights = await mustEdit(within, scenario, [department]);
		const { structure } = await companyState(trx);
		const plan = await planOf(trx, scenario);
		if (basis.kind === 'driver') mustMay(user, 'see driver models', structure.departments);
		const definitions = [...plan.models.values()].map((m) => m.definition);
		const faults = basisFaults({ account, department, basis }, structure, definitions);
		if (faults.length) throw new Refusal(422, faults[0].message, faults);
		const origin = plan.accounts.origin(account, department);
		if (origin.kind === 'posted')
			throw new Refusal(
				422,
				`This account comes from the driver model ${origin.models.join(', ')}; change the model instead.`
			);
		await storeBasis(trx, scenario, { account, department, basis });
		await note(trx, [
			{
				user: user.email,
				kind: 'basis',
				scenario,
				about: { what: 'basis', account, department },
				before: basisText(origin.basis),
				after: basisText(basis),
				why: ''
			}
		]);
		await touchScenario(trx, scenario);
		// Calculated before it is kept: a percentage of itself, however far around, is refused here.
		await planOf(trx, scenario);
		await markDrafting(within, rights.get(department)!, department);
	});
}
