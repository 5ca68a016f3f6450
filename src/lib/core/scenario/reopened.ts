/** A plan whose figures stand, of a company or of rows that are called or arranged otherwise than when it was made. */
import { openBlocks } from '../blocks/kinds';
import type { Structure } from '../company/structure';
import type { ScenarioData } from './data';
import type { Plan } from './plan';

/**
 * The same calculation under other words.
 * @param structure one in which every block calculates the same
 * @param data that which it was made from, but for what its rows hold where they stand as those do
 */
export function reopened(plan: Plan, structure: Structure, data: ScenarioData): Plan {
	const { all, accounts } = openBlocks(structure, data);
	return {
		...plan,
		structure,
		blocks: all,
		accounts,
		schedules: new Map((data.schedules ?? []).map((s) => [s.definition.code, s]))
	};
}
