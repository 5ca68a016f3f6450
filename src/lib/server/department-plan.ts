/** A department's plan: accounts × months. */
import type { Knex } from 'knex';
import { firstOpen } from '../core/plan/assemble';
import { accountSeries, cellsOf, overTime } from '../core/compare/statement';
import type { Cell } from '../core/engine/values';
import { LEDGER_BLOCK, type Account, type Basis } from '../core/model/schema';
import { isBalance } from '../core/model/sign';
import { quartersOf } from '../core/calendar/spans';
import type { Origin, Plan } from '../core/plan/scenario';
import { may, mustMay, mustRead } from './auth/policy';
import type { User } from './auth/sessions';
import { writeCells, type SavedAs } from './cells';
import { marksIn, type CellMark } from './cell-marks';
import { basisToRow } from './db/rows';
import { newBatch, note } from './journal';
import { Refusal } from './refusal';
import { mustSee, planOf, touchScenario, writableScenario } from './scenarios';
import { companyState } from './structure';
import { targetOf } from './targets';
import { editRight, markDrafting, type EditRight } from './submissions';

export interface PlanRow {
	account: string;
	name: string;
	parent: string | null;
	depth: number;
	type: Account['type'];
	format: Account['format'];
	leaf: boolean;
	/** Whether a total of months is their sum. */
	sums: boolean;
	cells: Cell[];
	/** Quarters of the window, as far as they lie in it. */
	quarters: Cell[];
	total: Cell;
	lastYear: Cell;
	/** What was set top-down for the window; blank without a target. */
	target: Cell;
	/** What the window comes to without what is typed over bases; leaf department and account with a basis only. */
	basisTotal: Cell;
	/** Leaf department and leaf account only: what was typed, by month. */
	typed: (number | null)[] | null;
	origin: Origin | null;
}

export interface DepartmentPlan {
	rows: PlanRow[];
	/** First open month (ordinal); earlier ones are closed. */
	open: number;
	/** Last month that can be planned. */
	last: number;
	right: EditRight;
	/** The scenario that holds the targets. */
	target: { code: string; name: string } | null;
	/** Cells whose value is an error. */
	errors: number;
	/** Lines of driver models that a basis may name, or names already (`model.line`). */
	drivers: { code: string; name: string }[];
	/** Notes, items and attachments on cells of this department. */
	marks: CellMark[];
	/** Whether others may be chosen. */
	choosesDrivers: boolean;
}

/** The accounts that are planned, parents first: everything but balance accounts. */
export function plannedAccounts(plan: Plan): Account[] {
	const { accounts } = plan.structure;
	return accounts.roots.filter((r) => !isBalance(r.type)).flatMap((r) => accounts.subtree(r.code));
}

export async function readDepartmentPlan(
	db: Knex,
	user: User,
	scenario: string,
	department: string,
	from: number,
	to: number
): Promise<DepartmentPlan> {
	const { structure } = await companyState(db);
	mustRead(user, department, structure.departments);
	await mustSee(db, user, scenario);
	const plan = await planOf(db, scenario);
	const { accounts, departments } = structure;
	const leaves = departments.leaves(department).map((d) => d.code);
	const series = accountSeries(plan, leaves);
	const target = await targetOf(db, user, scenario);
	const set = target && (await planOf(db, target.code));
	const setSeries = set && accountSeries(set, leaves);
	const single = departments.isLeaf(department);
	let errors = 0;
	const quarters = quartersOf(structure.calendar, { from, to });
	const rows = plannedAccounts(plan).map((account): PlanRow => {
		const s = series.get(account.code)!;
		const leaf = accounts.isLeaf(account.code);
		const cells = cellsOf(plan, s, from, to);
		errors += cells.filter((c) => typeof c === 'string').length;
		return {
			account: account.code,
			name: account.name,
			parent: account.parent,
			depth: accounts.depth(account.code),
			type: account.type,
			format: account.format,
			leaf,
			sums: account.rollup === 'sum',
			cells,
			quarters: quarters.map((q) => overTime(plan, s, q.from, q.to)),
			total: overTime(plan, s, from, to),
			basisTotal: single && leaf ? basisTotal(plan, account, department, cells, from) : null,
			lastYear: overTime(plan, s, from - 12, to - 12),
			target: set && setSeries ? overTime(set, setSeries.get(account.code)!, from, to) : null,
			typed: single && leaf ? typedCells(plan, account.code, department, from, to) : null,
			origin: single && leaf ? plan.origin(account.code, department) : null
		};
	});
	return {
		rows,
		open: plan.open,
		last: plan.scenario.last,
		target,
		right: await editRight(db, user, scenario, department),
		errors,
		marks: single ? await marksIn(db, scenario, LEDGER_BLOCK, department) : [],
		drivers: driversOf(plan, user, rows),
		choosesDrivers: may(user, 'see driver models', structure.departments)
	};
}

/** The window's total with the basis's own figure in every month that is typed over; null without a basis. */
function basisTotal(
	plan: Plan,
	account: Account,
	department: string,
	cells: readonly Cell[],
	from: number
): Cell {
	const origin = plan.origin(account.code, department);
	if (account.rollup !== 'sum' || (origin.kind === 'basis' && origin.basis.kind === 'typed')) return null;
	let total = 0;
	for (const [i, cell] of cells.entries()) {
		const value = from + i < plan.open ? cell : plan.basisCell(account.code, department, from + i);
		if (typeof value === 'string') return value;
		total += value ?? 0;
	}
	return total;
}

/** All lines that can be read from an account; for those who may not see driver models only those in use. */
function driversOf(plan: Plan, user: User, rows: readonly PlanRow[]): DepartmentPlan['drivers'] {
	const all = [...plan.models.values()].flatMap(({ definition }) =>
		definition.lines
			.filter((l) => l.rollup.members === 'sum' || definition.dimensions.length === 0)
			.map((l) => ({ code: `${definition.code}.${l.code}`, name: `${definition.name}: ${l.label}` }))
	);
	if (may(user, 'see driver models', plan.structure.departments)) return all;
	const used = new Set(
		rows.flatMap(({ origin }) =>
			origin?.kind === 'basis' && origin.basis.kind === 'driver' ? [origin.basis.driver] : []
		)
	);
	return all.filter((d) => used.has(d.code));
}

function typedCells(
	plan: Plan,
	account: string,
	department: string,
	from: number,
	to: number
): (number | null)[] {
	return Array.from({ length: to - from + 1 }, (_, i) => {
		const p = from + i;
		const cell = p < plan.open ? null : plan.typed(account, department, p);
		return typeof cell === 'number' ? cell : null;
	});
}

export interface PlanEdit {
	account: string;
	period: number;
	before: number | null;
	value: number | null;
}

async function mustEdit(db: Knex, user: User, scenario: string, department: string): Promise<EditRight> {
	const { structure } = await companyState(db);
	mustRead(user, department, structure.departments);
	await mustSee(db, user, scenario);
	await writableScenario(db, scenario);
	const right = await editRight(db, user, scenario, department);
	if (!right.editable) throw new Refusal(403, right.reason);
	return right;
}

/** Saves typed cells of one department; answers how many changed. */
export async function savePlanCells(
	db: Knex,
	user: User,
	scenario: string,
	department: string,
	edits: readonly PlanEdit[],
	as: SavedAs = { kind: 'plan', batch: newBatch() }
): Promise<number> {
	return db.transaction(async (trx) => {
		const right = await mustEdit(trx, user, scenario, department);
		const state = await companyState(trx);
		const { accounts } = state.structure;
		const own = await writableScenario(trx, scenario);
		const open = firstOpen(own);
		for (const e of edits) {
			const account = accounts.get(e.account);
			if (!account || !accounts.isLeaf(e.account) || isBalance(account.type))
				throw new Refusal(
					422,
					`“${account?.name ?? e.account}” is a total or a balance and cannot be typed.`
				);
			if (e.period < open || e.period > own.last)
				throw new Refusal(
					422,
					`${state.calendar.longLabel(e.period)} is ${e.period < open ? 'closed' : 'beyond the scenario’s last month'} and cannot be typed.`
				);
		}
		const count = await writeCells(
			trx,
			scenario,
			state.calendar,
			edits.map((e) => ({
				block: LEDGER_BLOCK,
				line: e.account,
				row: department,
				period: e.period,
				before: e.before,
				value: e.value
			})),
			user.email,
			as
		);
		if (count) await markDrafting(trx, user, right, department);
		return count;
	});
}

/** Words for a basis, for the journal. */
const basisText = (b: Basis | null) => (b === null ? '' : JSON.stringify(b));

/** Chooses how an account in a department gets its plan. Typed values stay, as overrides. */
export async function saveBasis(
	db: Knex,
	user: User,
	scenario: string,
	department: string,
	account: string,
	basis: Basis
): Promise<void> {
	await db.transaction(async (trx) => {
		const right = await mustEdit(trx, user, scenario, department);
		const { accounts } = (await companyState(trx)).structure;
		const takes = (code: string) => {
			const a = accounts.get(code);
			return a !== undefined && accounts.isLeaf(code) && !isBalance(a.type);
		};
		if (!takes(account)) throw new Refusal(422, `“${account}” takes no plan.`);
		if (basis.kind === 'percent-of' && !takes(basis.account))
			throw new Refusal(422, `“${basis.account}” takes no plan.`);
		const plan = await planOf(trx, scenario);
		if (basis.kind === 'driver') {
			mustMay(user, 'see driver models', plan.structure.departments);
			if (!driversOf(plan, user, []).some((d) => d.code === basis.driver))
				throw new Refusal(
					422,
					`“${basis.driver}” is no line of a driver model that an account can be planned by.`
				);
		}
		const origin = plan.origin(account, department);
		if (origin.kind === 'posted')
			throw new Refusal(
				422,
				`This account comes from the driver model ${origin.models.join(', ')}; change the model instead.`
			);
		await trx('basis').where({ scenario, account, department }).delete();
		await trx('basis').insert(basisToRow(scenario, { account, department, basis }));
		await note(trx, [
			{
				user: user.email,
				kind: 'basis',
				scenario,
				subject: `basis/${account}/${department}`,
				before: basisText(origin.basis),
				after: basisText(basis),
				why: ''
			}
		]);
		await touchScenario(trx, scenario);
		// Calculated before it is kept: a percentage of itself, however far around, is refused here.
		await planOf(trx, scenario);
		await markDrafting(trx, user, right, department);
	});
}
