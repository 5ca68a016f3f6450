/** What formulas of a block may refer to, whatever kind the blocks are. */
import { attributeQuantity, attributesOf } from '../company/attributes';
import type { Account, Dimension } from '../company/schema';
import { retiredIn } from '../company/retired';
import { buildTree, type Tree } from '../company/tree';
import type { BlockNames, Names } from '../formula/check';
import { inUnit, plain, UNKNOWN, type MoneyUnits, type Quantity } from '../formula/units';

/** What a company and its scenarios add to the blocks. */
export interface NameSources {
	accounts: Tree<Account>;
	dimensions: readonly Dimension[];
	/** What amounts are counted in. */
	money: MoneyUnits;
	/** Codes of scenarios that may be read. */
	scenarios: readonly string[];
	/** Names of blocks of other kinds than the one that is asked about. */
	blocks?: readonly BlockNames[];
}

/**
 * Amounts of departments are in their own currencies where a block is by department; elsewhere they are read as their
 * sum, which exists in the reporting currency alone.
 * @param blocks those of the scenario, the own one among them or not
 */
export function namesAmong(
	own: BlockNames,
	blocks: readonly BlockNames[],
	{ accounts, dimensions, money, scenarios }: NameSources
): Names {
	const { reporting, local } = money;
	const byDepartment = own.dimensions.includes('department');
	const read = (q: Quantity) => (byDepartment ? q : inUnit(q, local, reporting));
	return {
		own,
		money,
		blocks: blocks
			.filter((b) => b.code !== own.code)
			.map((b) =>
				byDepartment || local === reporting
					? b
					: { ...b, lines: b.lines.map((l) => ({ ...l, quantity: read(l.quantity) })) }
			),
		accounts: accounts.all
			.filter((a) => accounts.isLeaf(a.code))
			.map((a) => ({
				code: a.code,
				label: a.name,
				quantity: accountQuantity(a, byDepartment ? local : reporting)
			})),
		dimensions: dimensions.map((d) => ({
			code: d.code,
			members: d.members.map((m) => m.code),
			retired: [...retiredIn(buildTree(d.members))],
			attributes: attributesOf(d).map((code) => ({ code, quantity: attributeQuantity(d, code) }))
		})),
		scenarios
	};
}

function accountQuantity({ type, format }: Account, currency: string): Quantity {
	if (type === 'rate' || (type === 'statistical' && format !== 'money'))
		return format === 'percent' ? plain : UNKNOWN;
	return { kind: 'number', unit: { [currency]: 1 } };
}
