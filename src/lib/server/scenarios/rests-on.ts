/** Which scenarios a scenario's figures rest on. */
import type { Knex } from 'knex';
import type { ModelDefinition } from '../../core/blocks/driver-model/schema';
import { foreignReferences } from '../../core/scenario/foreign';

/** Scenarios whose formulas read others, with what they read. Only definitions that speak of others are parsed. */
export async function readingOthers(db: Knex): Promise<{ scenario: string; others: string[] }[]> {
	const speaking = (await db('scenario_model')
		.join('definition', 'definition.id', 'scenario_model.definition')
		.whereLike('content', '%scenario(%')
		.select('scenario', 'content')) as { scenario: string; content: string }[];
	return speaking.map(({ scenario, content }) => {
		const definition = JSON.parse(content) as ModelDefinition;
		const read = foreignReferences([{ definition, rows: [] }]).map((r) => r.scenario);
		return { scenario, others: [...new Set(read)] };
	});
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
	const reach = (code: string, found: Set<string>): Set<string> => {
		if (found.has(code)) return found;
		found.add(code);
		for (const next of direct.get(code) ?? []) reach(next, found);
		return found;
	};
	return new Map(scenarios.map(({ code }) => [code, reach(code, new Set())]));
}
