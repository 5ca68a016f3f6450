/** The rows of a plan's grid, however it is arranged. */
import { isBalance } from '../../core/company/sign';
import type { PlanRow } from '../../core/views/plan-rows';
import type { GridRow } from '../grid/types';
import { layOut } from '../entry/statement';

/** What a plan of several departments shows: accounts that open into departments, or the other way round, or both. */
export const ARRANGEMENTS = ['accounts', 'departments', 'across'] as const;
export type PlanArrangement = (typeof ARRANGEMENTS)[number];

/** Names an account in a department. */
export const partKey = (account: string, department: string) => `${account}@${department}`;
/** The same in the grid of a department, and among what is typed there: its own accounts go by their code alone. */
export const cellRow = (account: string, department: string, selected: string) =>
	department === selected ? account : partKey(account, department);
export function placeOf(row: string, selected: string): { account: string; department: string } {
	const [account, department = selected] = row.split('@');
	return { account, department };
}
const HEADING = 'heading:';
const DEPARTMENT = 'department:';
/** The account and department whose figures stand in a row of the grid; null for a heading. */
export function figuresOf(key: string, selected: string): { account: string; department: string } | null {
	if (key.startsWith(HEADING)) return null;
	return placeOf(key.startsWith(DEPARTMENT) ? key.slice(DEPARTMENT.length) : key, selected);
}
/** What a row's toggle opens or folds: a group of accounts wherever it stands, all else by itself. */
export function toggleOf(row: GridRow, selected: string): { folds: string } | { opens: string } {
	const own = row.key.startsWith(DEPARTMENT) || row.kind === 'leaf' || row.kind === 'part';
	return own
		? { opens: row.key }
		: {
				folds: placeOf(row.key.startsWith(HEADING) ? row.key.slice(HEADING.length) : row.key, selected)
					.account
			};
}

export interface Department {
	code: string;
	name: string;
	depth: number;
	leaf: boolean;
}
/** Departments directly under one, in a list that is in the order of the tree. */
export function departmentsUnder(departments: readonly Department[], code: string): Department[] {
	const at = departments.findIndex((d) => d.code === code);
	if (at < 0) return [];
	const end = departments.findIndex((d, i) => i > at && d.depth <= departments[at].depth);
	return departments
		.slice(at + 1, end < 0 ? undefined : end)
		.filter((d) => d.depth === departments[at].depth + 1);
}

export interface PlanTree {
	departments: readonly Department[];
	/** The department shown. */
	selected: Department;
	/** An account's row in a department, as far as it is read. */
	row: (account: string, department: string) => PlanRow | undefined;
	/** Accounts as a statement lists them, parents first. */
	accounts: readonly PlanRow[];
	/** Groups of accounts that show their total alone. */
	folded: ReadonlySet<string>;
	/** Keys of rows that are opened into departments, or into accounts. */
	opened: ReadonlySet<string>;
	/** Whether a row is shown though there is nothing in it. */
	shown: (row: PlanRow) => boolean;
}

/** The account that a department's own row shows: the first of those at the top, its result. */
export const resultOf = (accounts: readonly PlanRow[]) => accounts.find((a) => a.parent === null);

export function planGridRows(tree: PlanTree, arrangement: PlanArrangement): GridRow[] {
	return arrangement === 'departments'
		? departmentRows(tree, tree.selected, 0)
		: statementRows(tree, tree.selected, 0, arrangement === 'accounts');
}

/** @param opens whether accounts open into departments */
function statementRows(tree: PlanTree, department: Department, indent: number, opens: boolean): GridRow[] {
	const items = tree.accounts.map((a) => tree.row(a.account, department.code) ?? a);
	// Some of the balances under a heading do not come to it.
	const summed = (row: PlanRow) => !isBalance(row.type);
	return layOut(items, tree.folded, tree.shown, summed).flatMap(
		({ item, kind, depth, folded }): GridRow[] => {
			const key = cellRow(item.account, department.code, tree.selected.code);
			const splits = opens && kind === 'leaf' && !department.leaf;
			const open = splits && tree.opened.has(key);
			const row: GridRow = {
				key: kind === 'heading' ? HEADING + key : key,
				label: item.name,
				indent: indent + depth,
				kind,
				format: item.format,
				toggle: kind === 'heading' || open ? 'open' : folded || splits ? 'closed' : undefined
			};
			return open ? [row, ...splitRows(tree, item, department, indent + depth + 1)] : [row];
		}
	);
}

/** An account's departments, one level under another. */
function splitRows(tree: PlanTree, account: PlanRow, department: Department, indent: number): GridRow[] {
	return departmentsUnder(tree.departments, department.code).flatMap((d): GridRow[] => {
		const found = tree.row(account.account, d.code);
		if (found && !tree.shown(found)) return [];
		const key = cellRow(account.account, d.code, tree.selected.code);
		const open = !d.leaf && tree.opened.has(key);
		const row: GridRow = {
			key,
			label: d.name,
			indent,
			kind: 'part',
			format: account.format,
			toggle: d.leaf ? undefined : open ? 'open' : 'closed'
		};
		return open ? [row, ...splitRows(tree, account, d, indent + 1)] : [row];
	});
}

/** Departments with their results; each opens into those under it, and into its statement in the end. */
function departmentRows(tree: PlanTree, department: Department, indent: number): GridRow[] {
	const result = resultOf(tree.accounts);
	if (!result) return [];
	const rows = departmentsUnder(tree.departments, department.code).flatMap((d): GridRow[] => {
		const key = DEPARTMENT + partKey(result.account, d.code);
		const open = tree.opened.has(key);
		const row: GridRow = {
			key,
			label: d.name,
			indent,
			kind: d.leaf ? 'leaf' : 'total',
			format: result.format,
			toggle: open ? 'open' : 'closed'
		};
		if (!open) return [row];
		const inner = d.leaf ? statementRows(tree, d, indent + 1, false) : departmentRows(tree, d, indent + 1);
		return [{ ...row, kind: d.leaf ? 'heading' : 'total' }, ...inner];
	});
	return indent > 0
		? rows
		: [
				...rows,
				{
					key: result.account,
					label: result.name,
					indent: 0,
					kind: 'total',
					format: result.format
				}
			];
}

/** In a plan of more departments than this their accounts are not all read to find one. */
export const MOST_SEARCHED = 40;

/**
 * Rows of departments that must be opened so that those with these words in their names are among them, and accounts
 * with these words.
 */
export function openedToFind(
	{ departments, selected, accounts }: Pick<PlanTree, 'departments' | 'selected' | 'accounts'>,
	words: string
): string[] {
	const result = resultOf(accounts)?.account;
	if (!words || !result) return [];
	const has = ({ name }: { name: string }) => name.toLowerCase().includes(words.toLowerCase());
	const leavesUnder = (code: string): number =>
		departmentsUnder(departments, code).reduce((n, d) => n + (d.leaf ? 1 : leavesUnder(d.code)), 0);
	const byAccount = accounts.some(has) && leavesUnder(selected.code) <= MOST_SEARCHED;
	const keysUnder = (code: string): { keys: string[]; found: boolean } => {
		let [keys, found]: [string[], boolean] = [[], false];
		for (const d of departmentsUnder(departments, code)) {
			const under = d.leaf ? { keys: [], found: byAccount } : keysUnder(d.code);
			if (under.found) keys = [...keys, DEPARTMENT + partKey(result, d.code), ...under.keys];
			found ||= under.found || has(d);
		}
		return { keys, found };
	};
	return keysUnder(selected.code).keys;
}

/** What is to be read for the rows that are opened: paths of the API after the common part of the query. */
export function pathsFor(
	{
		departments,
		selected,
		accounts,
		opened
	}: Pick<PlanTree, 'departments' | 'selected' | 'accounts' | 'opened'>,
	arrangement: PlanArrangement
): { path: string; query: Record<string, string> }[] {
	if (selected.leaf) return [];
	const parts = (department: string, account?: string) => ({
		path: 'plan/parts',
		query: { department, ...(account ? { accounts: account } : {}) }
	});
	if (arrangement === 'across') return [parts(selected.code)];
	const isLeaf = (code: string) => departments.find((d) => d.code === code)?.leaf === true;
	const places = [...opened].flatMap((key) => {
		const place = figuresOf(key, selected.code);
		return place ? [{ ...place, whole: key.startsWith(DEPARTMENT) }] : [];
	});
	if (arrangement === 'accounts')
		return places.filter((p) => !p.whole).map((p) => parts(p.department, p.account));
	const result = resultOf(accounts)?.account;
	return [
		parts(selected.code, result),
		...places
			.filter((p) => p.whole)
			.map(({ department }) =>
				isLeaf(department) ? { path: 'plan', query: { department } } : parts(department, result)
			)
	];
}
