/** Who sees a scenario, and with it figures of others that it rests on. */
import type { Department } from '../../../core/company/schema';
import type { Tree } from '../../../core/company/tree';
import { maySeeScenario } from './policy';
import type { Shown } from './roles';
import type { User } from './sessions';

/** Of each scenario itself and all that is reached from it. */
export function reachFrom(direct: ReadonlyMap<string, readonly string[]>): Map<string, Set<string>> {
	const reach = (code: string, found: Set<string>): Set<string> => {
		if (found.has(code)) return found;
		found.add(code);
		for (const next of direct.get(code) ?? []) reach(next, found);
		return found;
	};
	return new Map([...direct.keys()].map((code) => [code, reach(code, new Set())]));
}

/** Somebody who sees one scenario, and with it figures of another that they may not see. */
export interface ShownThrough {
	scenario: string;
	through: string;
	/** E-mail. */
	user: string;
}

/**
 * Whoever sees a scenario sees all that its figures rest on: what it looks back through and what its formulas read,
 * however far. Its targets are asked for by themselves, wherever they are shown.
 * @param reads what formulas of a scenario read, by its code
 * @returns everybody for whom this does not hold, in the order of the scenarios
 */
export function shownThrough(
	scenarios: readonly (Shown & { code: string; follows: string | null })[],
	reads: ReadonlyMap<string, readonly string[]>,
	users: readonly User[],
	departments: Tree<Department>
): ShownThrough[] {
	const by = new Map(scenarios.map((s) => [s.code, s]));
	const reached = reachFrom(
		new Map(scenarios.map((s) => [s.code, [...(s.follows ? [s.follows] : []), ...(reads.get(s.code) ?? [])]]))
	);
	return scenarios.flatMap((s) =>
		[...reached.get(s.code)!].flatMap((through) => {
			const other = by.get(through);
			if (!other || other.visibility === 'all') return [];
			return users
				.filter((u) => maySeeScenario(u, s, departments) && !maySeeScenario(u, other, departments))
				.map((u) => ({ scenario: s.code, through, user: u.email }));
		})
	);
}
