/** A company's structure: what does not differ between scenarios. */
import type { Calendar } from '../calendar/calendar';
import { LOCAL, type MoneyUnits } from '../formula/units';
import type { Account, Department, Dimension, Entity, Member } from './schema';
import { buildTree, type Tree } from './tree';

/** Everything that does not differ between scenarios. */
export interface Structure {
	calendar: Calendar;
	/** The reporting currency, in which amounts of all departments are added up. */
	currency: string;
	entities: readonly Entity[];
	/** What amounts are counted in, as units of formulas. */
	money: MoneyUnits;
	accounts: Tree<Account>;
	departments: Tree<Department>;
	dimensions: ReadonlyMap<string, { dimension: Dimension; members: Tree<Member> }>;
	/** Leaf departments in tree order: the rows of the ledger block. */
	departmentRows: readonly Department[];
	departmentRow: ReadonlyMap<string, number>;
	/** In which currency each of them plans. */
	rowCurrency: readonly string[];
}

/** @param entities with their currencies; a department of one that is not there plans in the reporting currency */
export function buildStructure(
	calendar: Calendar,
	accounts: readonly Account[],
	departments: readonly Department[],
	dimensions: readonly Dimension[],
	currency: string,
	entities: readonly Entity[] = []
): Structure {
	const departmentTree = buildTree(departments);
	const rows = departmentTree.all.filter((d) => departmentTree.isLeaf(d.code));
	const currencyOf = new Map(entities.map((e) => [e.code, e.currency]));
	const rowCurrency = rows.map((d) => currencyOf.get(d.entity) ?? currency);
	const several = rowCurrency.some((c) => c !== currency);
	return {
		calendar,
		currency,
		entities,
		money: { reporting: currency, local: several ? LOCAL : currency },
		rowCurrency,
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

/** Whether some department plans in another currency than the company reports in. */
export const severalCurrencies = ({ money }: Structure): boolean => money.local !== money.reporting;

/**
 * The one currency in which all departments under one plan; null where there are several.
 * @param department null: all of them
 */
export function currencyUnder(structure: Structure, department: string | null): string | null {
	const { departments, departmentRow, rowCurrency, currency } = structure;
	if (!severalCurrencies(structure)) return currency;
	const leaves = department === null ? structure.departmentRows : departments.leaves(department);
	const [first, ...rest] = leaves.map((d) => rowCurrency[departmentRow.get(d.code)!]);
	return rest.every((c) => c === first) ? (first ?? currency) : null;
}
