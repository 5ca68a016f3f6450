/** A company's structure: what does not differ between scenarios. */
import type { Calendar } from '../calendar/calendar';
import type { Account, Department, Dimension, Member } from './schema';
import { buildTree, type Tree } from './tree';

/** Everything that does not differ between scenarios. */
export interface Structure {
	calendar: Calendar;
	/** The company's currency, in which accounts are kept. */
	currency: string;
	accounts: Tree<Account>;
	departments: Tree<Department>;
	dimensions: ReadonlyMap<string, { dimension: Dimension; members: Tree<Member> }>;
	/** Leaf departments in tree order: the rows of the ledger block. */
	departmentRows: readonly Department[];
	departmentRow: ReadonlyMap<string, number>;
}

export function buildStructure(
	calendar: Calendar,
	accounts: readonly Account[],
	departments: readonly Department[],
	dimensions: readonly Dimension[],
	currency: string
): Structure {
	const departmentTree = buildTree(departments);
	const rows = departmentTree.all.filter((d) => departmentTree.isLeaf(d.code));
	return {
		calendar,
		currency,
		accounts: buildTree(accounts),
		departments: departmentTree,
		dimensions: new Map(dimensions.map((d) => [d.code, { dimension: d, members: buildTree(d.members) }])),
		departmentRows: rows,
		departmentRow: new Map(rows.map((d, i) => [d.code, i]))
	};
}

/** The members of a dimension; departments are one. */
export function treeOf(
	structure: Structure,
	dimension: string
): Tree<{ code: string; name: string; parent: string | null }> | undefined {
	return dimension === 'department' ? structure.departments : structure.dimensions.get(dimension)?.members;
}
