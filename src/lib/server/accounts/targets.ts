/** Top-down targets beside the bottom-up plan. */
import type { AnyCalendarSpec } from '../../core/calendar/spec';
import { overTime } from '../../core/statements/statement';
import { totalsOf } from '../../core/statements/totals';
import { currencyUnder } from '../../core/company/structure';
import { currencyIn, moneyView, ratesIn, type MoneyView } from '../../core/currency/view';
import { ERROR_TEXT, MIXED, type Cell } from '../../core/engine/values';
import { targetLines, type TargetLine } from '../../core/analysis/targets';
import type { Plan } from '../../core/scenario/plan';
import { maySeeScenario, readableRoots } from '../platform/auth/policy';
import { planOf } from '../scenarios/plans';
import { getScenario, listScenarios, mustSee } from '../scenarios/scenarios';
import { companyState } from '../company/structure';
import { rightIn } from './money-right';
import { editRights, type EditRight } from '../rounds/submissions';
import type { Context } from '../platform/context';

/** The scenario that holds a scenario's targets, where there is one that the user may see. */
export async function targetOf(
	context: Context,
	scenario: string
): Promise<{ code: string; name: string } | null> {
	const { db, user } = context;
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
	/** In which it is shown; null for departments of several, of which there is no sum. */
	currency: string | null;
	/** Line by line: what was set, and what is planned. */
	cells: { target: Cell; plan: Cell }[];
	/** Whether targets can be typed: those of all departments under it; else why not. */
	editable: boolean;
	reason: string;
}

export interface TargetsView {
	target: { code: string; name: string } | null;
	lines: TargetLine[];
	rows: TargetRow[];
	/** In whose periods the targets stand. */
	calendar: AnyCalendarSpec;
	/** First and last of these that can be planned (ordinals). */
	open: number;
	last: number;
}

/** Targets and plan of every department that the user reads, over a window of months (ordinals, both included). */
export async function readTargets(
	context: Context,
	scenario: string,
	from: number,
	to: number,
	asked: MoneyView | null = null
): Promise<TargetsView> {
	const { db, user } = context;
	const { structure } = await companyState(db);
	await mustSee(context, scenario);
	const target = await targetOf(context, scenario);
	const lines = targetLines(structure.accounts);
	if (!target) return { target, lines, rows: [], calendar: structure.calendar.spec, open: 0, last: -1 };
	const [plan, set] = [await planOf(db, scenario), await planOf(db, target.code)];
	const { departments } = structure;
	const roots = readableRoots(user, departments);
	// Each department is read once; what is above it is the sum of those under it.
	const rightTo = await editRights(context, target.code);
	const leaves = new Map<string, { figures: TargetRow['cells']; right: EditRight }>();
	const money = moneyView(structure, roots.length === 1 ? roots[0].code : null, asked);
	for (const { code } of roots.flatMap((r) => departments.leaves(r.code))) {
		const figuresIn = (of: Plan): Cell[] => {
			const totals = totalsOf(of, structure.calendar, ratesIn(of, money));
			return lines.map(({ account }) => overTime(totals.of(account, code), from, to));
		};
		const [targets, planned] = [figuresIn(set), figuresIn(plan)];
		leaves.set(code, {
			figures: lines.map((_, i) => ({ target: targets[i], plan: planned[i] })),
			// In the reporting currency a target is typed in it, and brought into the department's own.
			right: money === 'reporting' ? rightTo(code) : rightIn(structure, code, 'local', rightTo(code))
		});
	}
	const rows = roots.flatMap((root) =>
		departments.subtree(root.code).map((d): TargetRow => {
			const under = departments.leaves(d.code).map((l) => leaves.get(l.code)!);
			const closed = under.find((l) => !l.right.editable);
			const several = currencyUnder(structure, d.code) === null;
			const mixed = money === 'local' && several;
			const total = (cells: Cell[]) => (mixed ? ERROR_TEXT[MIXED] : sumOf(cells));
			return {
				department: d.code,
				name: d.name,
				depth: departments.depth(d.code) - departments.depth(root.code),
				leaf: departments.isLeaf(d.code),
				cells: lines.map((_, i) => ({
					target: total(under.map((l) => l.figures[i].target)),
					plan: total(under.map((l) => l.figures[i].plan))
				})),
				currency: currencyIn(structure, d.code, money),
				editable: !closed && !mixed,
				reason: mixed
					? `Departments under it plan in several currencies: choose ${structure.currency} above to set their targets together.`
					: (closed?.right.reason ?? '')
			};
		})
	);
	const { calendar } = set.structure;
	return { target, lines, rows, calendar: calendar.spec, open: set.open, last: set.scenario.last };
}

/** Blanks add nothing; of errors the first stands for all. */
function sumOf(cells: readonly Cell[]): Cell {
	let sum: number | null = null;
	for (const cell of cells) {
		if (typeof cell === 'string') return cell;
		if (cell !== null) sum = (sum ?? 0) + cell;
	}
	return sum;
}
