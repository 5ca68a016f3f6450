/** What formulas of a block may refer to, whatever kind the blocks are. */
import { attributeQuantity, attributesOf } from '../company/attributes';
import type { Account, Dimension } from '../company/schema';
import type { Tree } from '../company/tree';
import type { BlockNames, Names } from '../formula/check';
import { plain, UNKNOWN, type Quantity } from '../formula/units';

/** What a company and its scenarios add to the blocks. */
export interface NameSources {
	accounts: Tree<Account>;
	dimensions: readonly Dimension[];
	/** The company's currency. */
	currency: string;
	/** Codes of scenarios that may be read. */
	scenarios: readonly string[];
}

/** @param blocks those of the scenario, the own one among them or not */
export function namesAmong(
	own: BlockNames,
	blocks: readonly BlockNames[],
	{ accounts, dimensions, currency, scenarios }: NameSources
): Names {
	return {
		own,
		blocks: blocks.filter((b) => b.code !== own.code),
		accounts: accounts.all
			.filter((a) => accounts.isLeaf(a.code))
			.map((a) => ({ code: a.code, label: a.name, quantity: accountQuantity(a, currency) })),
		dimensions: dimensions.map((d) => ({
			code: d.code,
			members: d.members.map((m) => m.code),
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
