/** Which scenarios a scenario's figures rest on, and who is shown them with it. */
import type { Knex } from 'knex';
import type { ModelDefinition } from '../../core/blocks/driver-model/schema';
import type { Department } from '../../core/company/schema';
import type { Tree } from '../../core/company/tree';
import { foreignReferences } from '../../core/scenario/foreign';
import { maySeeScenario } from '../platform/auth/policy';
import type { Shown } from '../platform/auth/roles';
import { allUsers, type User } from '../platform/auth/sessions';
import { Refusal } from '../platform/refusal';
import { companyState } from '../company/structure';
import { listScenarios, namedFor, visibleScenarios } from './scenarios';

/** Scenarios whose formulas read others, with what they read. Only definitions that speak of others are parsed. */
export async function readingOthers(db: Knex): Promise<{ scenario: string; others: string[] }[]> {
	const speaking = (await db('scenario_model')
		.join('definition', 'definition.id', 'scenario_model.definition')
		.whereLike('content', '%scenario%')
		.select('scenario', 'content')) as { scenario: string; content: string }[];
	return speaking.map(({ scenario, content }) => {
		const definition = JSON.parse(content) as ModelDefinition;
		const read = foreignReferences([{ definition, rows: [] }]).map((r) => r.scenario);
		return { scenario, others: [...new Set(read)] };
	});
}

/** Of each scenario itself and all that is reached from it. */
function reachFrom(direct: ReadonlyMap<string, readonly string[]>): Map<string, Set<string>> {
	const reach = (code: string, found: Set<string>): Set<string> => {
		if (found.has(code)) return found;
		found.add(code);
		for (const next of direct.get(code) ?? []) reach(next, found);
		return found;
	};
	return new Map([...direct.keys()].map((code) => [code, reach(code, new Set())]));
}

/**
 * For each scenario itself and all those that its pages show figures of: what it looks back through, what its formulas
 * read, however far, and its targets.
 */
export async function shownWith(db: Knex): Promise<Map<string, Set<string>>> {
	const scenarios = (await db('scenario').select('code', 'follows', 'target')) as {
		code: string;
		follows: string | null;
		target: string | null;
	}[];
	const direct = new Map<string, string[]>(
		scenarios.map((s) => [s.code, [s.follows, s.target].filter((c) => c !== null)])
	);
	for (const { scenario, others } of await readingOthers(db)) direct.get(scenario)?.push(...others);
	return reachFrom(direct);
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

async function shownThroughToday(db: Knex): Promise<ShownThrough[]> {
	const scenarios = await listScenarios(db);
	if (scenarios.every((s) => s.visibility === 'all')) return [];
	const { departments } = (await companyState(db)).structure;
	const reads = new Map((await readingOthers(db)).map((r) => [r.scenario, r.others]));
	return shownThrough(scenarios, reads, await allUsers(db), departments);
}

/**
 * Makes a change to who sees what, or to what figures rest on, and keeps it only where nobody is then shown figures of a
 * scenario that they may not see. What was so before is not held against it.
 * @throws Refusal 422 with the way out, named as far as the user may know of it
 */
export async function keepingToThoseWhoSee<T>(
	trx: Knex.Transaction,
	user: User,
	change: () => Promise<T>
): Promise<T> {
	const keyOf = (s: ShownThrough) => JSON.stringify([s.scenario, s.through, s.user]);
	const before = new Set((await shownThroughToday(trx)).map(keyOf));
	const made = await change();
	const told = (await shownThroughToday(trx)).filter((s) => !before.has(keyOf(s)));
	if (!told.length) return made;
	const { scenario, through } = told[0];
	const who = told.filter((s) => s.scenario === scenario && s.through === through).map((s) => s.user);
	const [above, below] = [await namedFor(trx, user, [scenario]), await namedFor(trx, user, [through])];
	const known = (await visibleScenarios(trx, user)).some((s) => s.code === scenario);
	const names = new Map((await allUsers(trx)).map((u) => [u.email, u.name]));
	const people = known ? inWords(who.map((u) => names.get(u) ?? u)) : 'somebody';
	throw new Refusal(
		422,
		`Figures of ${above} rest on ${below}, so ${people} would be shown figures of a scenario that they may not see. Nothing was saved. Show ${below} to all who see ${above}, or hide ${above} from the others too.`
	);
}

const MOST_NAMED = 3;

function inWords(names: readonly string[]): string {
	if (names.length > MOST_NAMED)
		return `${names.slice(0, MOST_NAMED - 1).join(', ')} and ${names.length - MOST_NAMED + 1} others`;
	return names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}
