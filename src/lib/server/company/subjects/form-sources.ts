/** What forms that are read from a folder may speak of. */
import type { DefinitionSources } from '../../../core/blocks/definition';
import type { Reading } from '../reading';
import { DIMENSIONS, structureOf } from './dimensions';

/** @param scenarios codes that formulas may name, beside actuals */
export function formSources(folder: Reading, scenarios: readonly string[]): DefinitionSources {
	const { accounts, departments, money } = structureOf(folder);
	return {
		accounts,
		departments,
		dimensions: folder.of(DIMENSIONS),
		money,
		scenarios: ['actuals', ...scenarios]
	};
}
