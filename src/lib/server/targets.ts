/** Top-down targets beside the bottom-up plan. */
import type { Knex } from 'knex';
import { accountSeries, cellsOf, overTime, type AccountSeries } from '../core/compare/statement';
import type { Cell } from '../core/engine/values';
import type { NumberFormat } from '../core/model/schema';
import { isBalance } from '../core/model/sign';
import { targetLines, type TargetLine } from '../core/plan/targets';
import type { Plan } from '../core/plan/scenario';
import { maySeeScenario, mustRead, readableRoots } from './auth/policy';
import type { User } from './auth/sessions';
import { notFound, Refusal } from './refusal';
import { getScenario, listScenarios, mustSee, planOf } from './scenarios';
import { companyState } from './structure';
import { editRight, type EditRight } from './submissions';

/** The scenario that holds a scenario's targets, where there is one that the user may see. */
export async function targetOf(
	db: Knex,
	user: User,
	scenario: string
): Promise<{ code: string; name: string } | null> {
	const { target } = await getScenario(db, scenario);
	if (target === null) return null;
	const found = (await listScenarios(db)).find((s) => s.code === target);
	const { departments } = (await companyState(db)).structure;
	return found && maySeeScenario(user, found, departments) ? { code: found.code, name: found.name } : null;
}

export interface TargetRow {
	department: string;
	name: string;
	depth: number;
	leaf: boolean;
	/** Line by line: what was set, and what is planned. */
	cells: { target: Cell; plan: Cell }[];
	/** Whether targets of the department can be typed; else why not. */
	editable: boolean;
	reason: string;
}

export interface TargetsView {
	target: { code: string; name: string } | null;
	lines: TargetLine[];
	rows: TargetRow[];
	/** First and last month of the targets that can be planned (ordinals). */
	open: number;
	last: number;
}

/** Targets and plan of every department that the user reads, over a window of months (ordinals, both included). */
export async function readTargets(
	db: Knex,
	user: User,
	scenario: string,
	from: number,
	to: number
): Promise<TargetsView> {
	const { structure } = await companyState(db);
	await mustSee(db, user, scenario);
	const target = await targetOf(db, user, scenario);
	const lines = targetLines(structure.accounts);
	if (!target) return { target, lines, rows: [], open: 0, last: -1 };
	const plans = { plan: await planOf(db, scenario), target: await planOf(db, target.code) };
	const { departments } = structure;
	const rows: TargetRow[] = [];
	const rights = new Map<string, EditRight>();
	for (const root of readableRoots(user, departments))
		for (const d of departments.subtree(root.code)) {
			const leaves = departments.leaves(d.code).map((l) => l.code);
			const figures = (plan: Plan): Map<string, AccountSeries> => accountSeries(plan, leaves);
			const [set, planned] = [figures(plans.target), figures(plans.plan)];
			const { editable, reason } = await rightTo(leaves, async (leaf) => {
				const own = rights.get(leaf) ?? (await editRight(db, user, target.code, leaf));
				rights.set(leaf, own);
				return own;
			});
			rows.push({
				department: d.code,
				name: d.name,
				depth: departments.depth(d.code) - departments.depth(root.code),
				leaf: departments.isLeaf(d.code),
				cells: lines.map(({ account }) => ({
					target: overTime(plans.target, set.get(account)!, from, to),
					plan: overTime(plans.plan, planned.get(account)!, from, to)
				})),
				editable,
				reason
			});
		}
	return { target, lines, rows, open: plans.target.open, last: plans.target.scenario.last };
}

/** A total can be typed where all the departments under it can. */
async function rightTo(leaves: readonly string[], rightOf: (leaf: string) => Promise<EditRight>) {
	for (const leaf of leaves) {
		const { editable, reason } = await rightOf(leaf);
		if (!editable) return { editable, reason };
	}
	return { editable: true, reason: '' };
}

/** A leaf account in a leaf department, month by month. */
export interface UnderRow {
	account: string;
	department: string;
	name: string;
	format: NumberFormat;
	cells: Cell[];
	/** What is typed there. */
	typed: (number | null)[];
}

/** What a total of accounts and departments is made of, cell by cell: what it can be spread into. */
export async function readUnder(
	db: Knex,
	user: User,
	query: { scenario: string; department: string; account: string; from: number; to: number }
): Promise<UnderRow[]> {
	const { scenario, department, account, from, to } = query;
	const { accounts, departments } = (await companyState(db)).structure;
	mustRead(user, department, departments);
	await mustSee(db, user, scenario);
	const own = accounts.get(account);
	if (!own) throw notFound(`The account “${account}”`);
	if (isBalance(own.type)) throw new Refusal(422, `“${own.name}” is a balance and is not planned.`);
	const plan = await planOf(db, scenario);
	return departments.leaves(department).flatMap((d) => {
		const series = accountSeries(plan, [d.code], account);
		return accounts.leaves(account).map((a): UnderRow => ({
			account: a.code,
			department: d.code,
			name: `${d.name}, ${a.name}`,
			format: a.format,
			cells: cellsOf(plan, series.get(a.code)!, from, to),
			typed: Array.from({ length: to - from + 1 }, (_, i) => {
				const cell = from + i < plan.open ? null : plan.typed(a.code, d.code, from + i);
				return typeof cell === 'number' ? cell : null;
			})
		}));
	});
}
