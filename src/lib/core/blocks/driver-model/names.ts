/** What a driver model's lines are called in formulas, and what its own formulas may refer to. */
import type { BlockNames, Names } from '../../formula/check';
import { currencyOfUnit, unitOf, type MoneyUnits, type Quantity } from '../../formula/units';
import { namesAmong, type NameSources } from '../names';
import type { Line, ModelDefinition } from './schema';

export const lineQuantity = (line: Line, money: MoneyUnits): Quantity =>
	unitOf(line.unit, line.format, money);

/** In which currency a line's amounts are; `LOCAL` for that of each row's department, null where it holds none. */
export const lineCurrency = (line: Line, money: MoneyUnits): string | null =>
	currencyOfUnit(lineQuantity(line, money));

export const modelNames = ({ code, dimensions, lines }: ModelDefinition, money: MoneyUnits): BlockNames => ({
	code,
	dimensions,
	lines: lines.map((l) => ({ code: l.code, label: l.label, quantity: lineQuantity(l, money) }))
});

/** What formulas of a model may refer to, among the models of a scenario. */
export const namesFor = (
	definition: ModelDefinition,
	models: readonly ModelDefinition[],
	sources: NameSources
): Names =>
	namesAmong(
		modelNames(definition, sources.money),
		[...models.map((m) => modelNames(m, sources.money)), ...(sources.blocks ?? [])],
		sources
	);
