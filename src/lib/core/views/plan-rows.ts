/** A department's planned accounts as rows of a grid: months, totals, year before, target, and what the basis gives. */
import { currencyUnder } from '../company/structure';
import { moneyView, ratesIn, type MoneyView } from '../currency/view';
import type { Calendar } from '../calendar/calendar';
import { spanBefore } from '../calendar/last-year';
import { quartersOf, type Span } from '../calendar/spans';
import { cellsOf, overTime } from '../statements/statement';
import { totalsOf } from '../statements/totals';
import type { Cell } from '../engine/values';
import type { Account } from '../company/schema';
import { isBalance } from '../company/sign';
import type { Origin } from '../inputs/basis';
import type { Plan } from '../scenario/plan';

export interface PlanRow {
	account: string;
	/** Leaf or group. */
	department: string;
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
	/** Whether anything under it may be typed: in a department that may be planned, and not given by a driver model. */
	open: boolean;
}

/** Balances to which something is posted, under their headings: the others a plan says nothing of. */
function postedBalances({ structure: { accounts }, accounts: block }: Plan): Account[] {
	const posted = accounts.all.filter((a) => isBalance(a.type) && block.isPosted(a.code));
	const shown = new Set(posted.flatMap((a) => [a, ...accounts.ancestors(a.code)]).map((a) => a.code));
	return accounts.roots.flatMap((r) => accounts.subtree(r.code)).filter((a) => shown.has(a.code));
}

/** The accounts that are planned, parents first: everything but balance accounts. */
export function plannedAccounts(plan: Plan): Account[] {
	const { accounts } = plan.structure;
	return accounts.roots.filter((r) => !isBalance(r.type)).flatMap((r) => accounts.subtree(r.code));
}

/** What a plan shows: the accounts that are planned, and balances that are posted to. */
export const shownAccounts = (plan: Plan): Account[] => [...plannedAccounts(plan), ...postedBalances(plan)];

export interface PlanRowsQuery {
	/** Leaf or group. */
	department: string;
	/** Months (ordinals, both included). */
	window: Span;
	/** In whose periods; the plan's own when absent. Nothing is typed in others. */
	calendar?: Calendar;
	/** All that are shown when absent, without balances of which the department has none. */
	accounts?: readonly Account[];
	/** The plan that holds the targets. */
	target?: Plan | null;
	/**
	 * In which currency; the department's own when absent, or the reporting one where there are several. Cells are typed
	 * in the department's own alone, totals over departments in either.
	 */
	money?: MoneyView;
	/** Whether a leaf department may be planned by whoever asks. */
	mayPlan?: (department: string) => boolean;
}

/** Rows of some accounts in a department. */
export function planRows(plan: Plan, query: PlanRowsQuery): PlanRow[] {
	const { department, window, target: set = null, mayPlan = () => true } = query;
	const calendar = query.calendar ?? plan.structure.calendar;
	const { structure } = plan;
	const money = moneyView(structure, department, query.money ?? null);
	const own = calendar === structure.calendar && money === 'local';
	const accounts = query.accounts ?? shownAccounts(plan);
	const { from, to } = window;
	const leaves = structure.departments.leaves(department).map((d) => d.code);
	const single = structure.departments.isLeaf(department);
	/** What counts in several currencies as they are is no sum; a department's own cells are typed in its own. */
	const summed = money === 'reporting' ? !single : currencyUnder(structure, department) !== null;
	const known = new Map<string, boolean>();
	const isOpen = (code: string): boolean => {
		const found =
			known.get(code) ?? leaves.some((d) => mayPlan(d) && plan.accounts.origin(code, d).kind === 'basis');
		known.set(code, found);
		return found;
	};
	// Targets are read in the periods of the plan that they stand beside.
	const [totals, targets] = [plan, set].map((of) => of && totalsOf(of, calendar, ratesIn(of, money)));
	const quarters = quartersOf(calendar, window);
	const former = spanBefore(calendar, window);
	const rows = accounts.map((account): PlanRow => {
		const { code } = account;
		const leaf = structure.accounts.isLeaf(code);
		// Some of the balances under a heading do not come to what it is.
		const s = !leaf && isBalance(account.type) ? null : totals!.of(code, department);
		const over = (span: Span): Cell => s && overTime(s, span.from, span.to);
		const cells = s ? cellsOf(s, from, to) : new Array<Cell>(to - from + 1).fill(null);
		return {
			account: code,
			department,
			name: account.name,
			parent: account.parent,
			depth: structure.accounts.depth(code),
			type: account.type,
			format: account.format,
			leaf,
			sums: account.rollup === 'sum',
			cells,
			quarters: quarters.map(over),
			total: over(window),
			basisTotal: single && leaf && own ? basisTotal(plan, account, department, cells, from) : null,
			lastYear: over(former),
			target: targets ? overTime(targets.of(code, department), from, to) : null,
			typed: single && leaf && own ? typedCells(plan, code, department, window) : null,
			origin: single && leaf ? plan.accounts.origin(code, department) : null,
			open: summed && structure.accounts.leaves(code).some((a) => isOpen(a.code))
		};
	});
	return query.accounts ? rows : withoutSilent(rows);
}

/** Without balances of which nothing is said, and headings under which there are none. */
function withoutSilent(all: readonly PlanRow[]): PlanRow[] {
	const rows = all.filter((r) => !r.leaf || !isBalance(r.type) || r.cells.some((cell) => cell !== null));
	const parents = new Set<string | null>();
	return rows
		.toReversed()
		.filter((row) => {
			const kept = row.leaf || !isBalance(row.type) || parents.has(row.account);
			if (kept) parents.add(row.parent);
			return kept;
		})
		.toReversed();
}

/** What was typed for a leaf account in a leaf department, month by month; nothing in closed ones. */
export function typedCells(
	plan: Plan,
	account: string,
	department: string,
	{ from, to }: Span
): (number | null)[] {
	const at = plan.accounts.typedAt(plan, account, department);
	return Array.from({ length: to - from + 1 }, (_, i) => {
		const cell = from + i < plan.open ? null : at(from + i);
		return typeof cell === 'number' ? cell : null;
	});
}

/** The window's total with the basis's own figure in every month that is typed over; null without a basis. */
function basisTotal(
	plan: Plan,
	account: Account,
	department: string,
	cells: readonly Cell[],
	from: number
): Cell {
	const origin = plan.accounts.origin(account.code, department);
	if (account.rollup !== 'sum' || (origin.kind === 'basis' && origin.basis.kind === 'typed')) return null;
	let total = 0;
	for (const [i, cell] of cells.entries()) {
		const value =
			from + i < plan.open ? cell : plan.accounts.basisCell(plan, account.code, department, from + i);
		if (typeof value === 'string') return value;
		total += value ?? 0;
	}
	return total;
}
