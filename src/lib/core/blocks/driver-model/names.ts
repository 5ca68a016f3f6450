/** What formulas may refer to. */
import type { BlockNames, Names } from '../../formula/check';
import { plain, unitOf, UNKNOWN, type Quantity } from '../../formula/units';
import { attributeQuantity, attributesOf } from '../../company/attributes';
import type { Account, Dimension } from '../../company/schema';
import type { Line, ModelDefinition } from './schema';
import type { Tree } from '../../company/tree';

export interface NameSources {
	accounts: Tree<Account>;
	dimensions: readonly Dimension[];
	/** The company's currency. */
	currency: string;
	/** Codes of scenarios that may be read. */
	scenarios: readonly string[];
}

export const lineQuantity = (line: Line, currency: string): Quantity =>
	unitOf(line.unit, line.format, currency);

function accountQuantity({ type, format }: Account, currency: string): Quantity {
	if (type === 'rate' || (type === 'statistical' && format !== 'money'))
		return format === 'percent' ? plain : UNKNOWN;
	return { kind: 'number', unit: { [currency]: 1 } };
}

/** What formulas of a model may refer to. */
export function namesFor(
	definition: ModelDefinition,
	models: readonly ModelDefinition[],
	{ accounts, dimensions, currency, scenarios }: NameSources
): Names {
	const block = (m: ModelDefinition): BlockNames => ({
		code: m.code,
		dimensions: m.dimensions,
		lines: m.lines.map((l) => ({ code: l.code, label: l.label, quantity: lineQuantity(l, currency) }))
	});
	return {
		own: block(definition),
		blocks: models.filter((m) => m.code !== definition.code).map(block),
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
