/** What the totals of a plan are made of, and what they would be with cells typed that are not saved yet. */
import type { TypedCell, Written } from '../../core/inputs/cell';
import { spanOnto } from '../../core/calendar/onto';
import { cellsOf } from '../../core/statements/statement';
import { totalsOf } from '../../core/statements/totals';
import type { Cell } from '../../core/engine/values';
import { axisOf } from '../../core/engine/axis';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import type { Account, NumberFormat } from '../../core/company/schema';
import { isMoney } from '../../core/currency/rates';
import { planRows, shownAccounts, typedCells, type PlanRow } from '../../core/views/plan-rows';
import { currencyUnder } from '../../core/company/structure';
import { moneyView, type MoneyView } from '../../core/currency/view';
import type { Plan } from '../../core/scenario/plan';
import { tryTyped } from '../../core/scenario/type-cells';
import { mustRead } from '../platform/auth/policy';
import { driversOf, type BasisDriver } from './basis-drivers';
import { notFound, Refusal } from '../platform/refusal';
import { AT_ONCE, planOf } from '../scenarios/plans';
import { cellsRead } from '../scenarios/block-periods';
import { mustSee } from '../scenarios/scenarios';
import { companyState } from '../company/structure';
import { editRights, type EditRight } from '../rounds/submissions';
import { periodsLike } from './department-plan';
import { rightIn } from './money-right';
import { targetOf } from './targets';
import type { Context } from '../platform/context';

/** Of the company’s periods (ordinals, both included); answers are in the scenario’s own. */
interface Window {
	scenario: string;
	/** A scenario in whose periods it is answered instead. */
	like?: string;
	from: number;
	to: number;
	/** In which currency; that of each department where nothing is said. */
	money?: MoneyView;
}

export interface PlanParts {
	rows: PlanRow[];
	/** By department: whether it can be planned by this user. */
	rights: Record<string, EditRight>;
	/** Lines of driver models that bases of these rows name. */
	drivers: BasisDriver[];
}

/** @throws Refusal 404 for an account that is not there, 422 for a balance of which plans say nothing */
function planned(plan: Plan, codes: readonly string[] | null): Account[] {
	const shown = shownAccounts(plan);
	return (
		codes?.map((code) => {
			const account = plan.structure.accounts.get(code);
			if (!account) throw notFound(`The account “${code}”`);
			if (!shown.includes(account))
				throw new Refusal(422, `“${account.name}” is a balance and is not planned.`);
			return account;
		}) ?? shown
	);
}

/**
 * Accounts of the departments directly under one.
 * @param accounts null for all
 */
export async function readParts(
	context: Context,
	{ scenario, like, from, to, money: asked }: Window,
	department: string,
	accounts: readonly string[] | null
): Promise<PlanParts> {
	const { db, user } = context;
	const { structure } = await companyState(db);
	mustRead(user, department, structure.departments);
	await mustSee(context, scenario);
	const [plan, target] = [await planOf(db, scenario), await targetOf(context, scenario)];
	const own = planned(plan, accounts);
	const set = target && (await planOf(db, target.code));
	const rightTo = await editRights(context, scenario);
	const children = structure.departments.children(department);
	// Parts stand in the currency of their total.
	const money = moneyView(structure, department, asked ?? null);
	const calendar = await periodsLike(context, plan, like ?? null);
	const window = spanOnto(calendar, structure.calendar, { from, to });
	const rows = children.flatMap((d) =>
		planRows(plan, {
			department: d.code,
			money,
			calendar,
			window,
			accounts: own,
			target: set,
			mayPlan: (leaf) => rightTo(leaf).editable
		})
	);
	return {
		rows,
		rights: Object.fromEntries(
			children.map((d) => [
				d.code,
				rightIn(structure, d.code, moneyView(structure, d.code, money), rightTo(d.code))
			])
		),
		drivers: driversOf(plan, user, rows)
	};
}

/** A leaf account in a leaf department, month by month. */
export interface UnderRow {
	account: string;
	department: string;
	format: NumberFormat;
	/** In which the department plans. */
	currency: string;
	cells: Cell[];
	/** What is typed there. */
	typed: (number | null)[];
	/**
	 * Where the reporting currency was asked for and the department plans in another: what a unit of that is worth in it,
	 * month by month; null where the rate is missing.
	 */
	rates?: (number | null)[];
	/** Whether it can be typed: a department that may be planned, an account that no driver model posts to. */
	open: boolean;
}

/** What a total of accounts and departments is made of, cell by cell: what it can be spread into. */
export async function readUnder(
	context: Context,
	{ scenario, like, department, account, ...asked }: Window & { department: string; account: string }
): Promise<UnderRow[]> {
	const { db, user } = context;
	const { structure } = await companyState(db);
	const { accounts, departments } = structure;
	mustRead(user, department, departments);
	await mustSee(context, scenario);
	const plan = await planOf(db, scenario);
	planned(plan, [account]);
	const calendar = await periodsLike(context, plan, like ?? null);
	const own = calendar === plan.structure.calendar;
	const { from, to } = spanOnto(calendar, structure.calendar, asked);
	const rightTo = await editRights(context, scenario);
	const money = asked.money ?? 'local';
	if (currencyUnder(structure, department) === null && money === 'local')
		throw new Refusal(
			422,
			`The departments under “${departments.get(department)!.name}” plan in several currencies, so a total over them has no sum to be spread, but in ${structure.currency}.`
		);
	const totals = totalsOf(plan, calendar, 'local');
	const { currency: reporting } = structure;
	const axis = axisOf(calendar, from, to - from + 1, 0);
	const ratesOf = (currency: string) =>
		Array.from(plan.exchange.between(currency, reporting, 'average', axis), (r) => (r > 0 ? r : null));
	return departments.leaves(department).flatMap((d) => {
		const currency = structure.rowCurrency[structure.departmentRow.get(d.code)!];
		const rates = money === 'reporting' && currency !== reporting ? ratesOf(currency) : undefined;
		return accounts.leaves(account).map((a): UnderRow => ({
			account: a.code,
			department: d.code,
			format: a.format,
			currency,
			...(rates && isMoney(a) ? { rates } : {}),
			cells: cellsOf(totals.of(a.code, d.code), from, to),
			typed: own ? typedCells(plan, a.code, d.code, { from, to }) : [],
			open: own && rightTo(d.code).editable && plan.accounts.origin(a.code, d.code).kind === 'basis'
		}));
	});
}

/** Rows that are shown: accounts of a department, null for all. */
export interface Shown {
	department: string;
	accounts: readonly string[] | null;
}

const same = (a: readonly Cell[], b: readonly Cell[]) => a.every((c, i) => c === b[i]);

/** The same with cells as a request writes them. @throws Refusal 400 for what is no period of the scenario */
export const previewWritten = async (
	context: Context,
	window: Window,
	edits: readonly Written<TypedCell>[],
	shown: readonly Shown[]
): Promise<PlanRow[]> =>
	previewPlan(context, window, await cellsRead(context, window.scenario, edits), shown);

/**
 * Of the rows shown those that would be other with these cells typed. Nothing is saved. A scenario that takes long to
 * calculate is not tried: no row is answered.
 * @throws Refusal 403 for departments that the user does not read
 */
export async function previewPlan(
	context: Context,
	{ scenario, from, to, money }: Window,
	edits: readonly TypedCell[],
	shown: readonly Shown[]
): Promise<PlanRow[]> {
	const { db, user } = context;
	const { structure } = await companyState(db);
	for (const department of new Set([...edits.map((e) => e.row), ...shown.map((s) => s.department)]))
		mustRead(user, department, structure.departments);
	await mustSee(context, scenario);
	const [plan, target] = [await planOf(db, scenario), await targetOf(context, scenario)];
	const set = target && (await planOf(db, target.code));
	const rightTo = await editRights(context, scenario);
	const window = spanOnto(plan.structure.calendar, structure.calendar, { from, to });
	const typed = new Set(edits.map((e) => e.line));
	const read = (reached: ReadonlySet<string>) =>
		shown.flatMap(({ department, accounts }) =>
			planRows(plan, {
				department,
				money,
				window,
				accounts: planned(plan, accounts).filter((a) => reached.has(a.code)),
				target: set,
				mayPlan: (leaf) => rightTo(leaf).editable
			})
		);
	const tried = tryTyped(
		plan,
		{ cells: edits },
		(touched) => {
			const own = [...touched].flatMap(({ block, code }) => (block === ACCOUNTS_BLOCK ? [code] : []));
			const above = [...own, ...typed].flatMap((code) => structure.accounts.ancestors(code));
			const accounts = new Set(above.map((a) => a.code));
			return [accounts, read(accounts)] as const;
		},
		AT_ONCE
	);
	if (!tried) return [];
	const [reached, now] = tried;
	const before = read(reached);
	return now.filter((row, i) => {
		const was = before[i];
		return !(
			same(row.cells, was.cells) &&
			row.total === was.total &&
			row.basisTotal === was.basisTotal &&
			same(row.typed ?? [], was.typed ?? [])
		);
	});
}
