/** What a driver model's lines are called in formulas, and what its own formulas may refer to. */
import type { BlockNames, Names } from '../../formula/check';
import { unitOf, type Quantity } from '../../formula/units';
import { namesAmong, type NameSources } from '../names';
import type { Line, ModelDefinition } from './schema';

export const lineQuantity = (line: Line, currency: string): Quantity =>
	unitOf(line.unit, line.format, currency);

export const modelNames = ({ code, dimensions, lines }: ModelDefinition, currency: string): BlockNames => ({
	code,
	dimensions,
	lines: lines.map((l) => ({ code: l.code, label: l.label, quantity: lineQuantity(l, currency) }))
});

/** What formulas of a model may refer to, among the models of a scenario. */
export const namesFor = (
	definition: ModelDefinition,
	models: readonly ModelDefinition[],
	sources: NameSources
): Names =>
	namesAmong(
		modelNames(definition, sources.currency),
		models.map((m) => modelNames(m, sources.currency)),
		sources
	);
