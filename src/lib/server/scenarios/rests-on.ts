/** Which scenarios a scenario's figures rest on, and who is shown them with it. */
import { z } from 'zod';
import type { Knex } from 'knex';
import { scenariosRead } from '../../core/scenario/foreign';
import { reachFrom, shownThrough, type ShownThrough } from '../platform/auth/shown-through';
import { activeUsers, allUsers } from '../platform/auth/sessions';
import { Refusal } from '../platform/refusal';
import { companyState } from '../company/structure';
import { listScenarios, namedFor, visibleScenarios } from './scenarios';
import * as stored from '../platform/db/stored';
import { speakingForms } from '../company/subjects/scenario/block-forms';
import type { Within } from '../platform/context';

const LeaningRow = z.object({ code: stored.text, follows: stored.textOrNone, target: stored.textOrNone });

/** Scenarios whose formulas read others, with what they read. */
export async function readingOthers(db: Knex): Promise<{ scenario: string; others: string[] }[]> {
	return [...(await speakingForms(db))].map(([scenario, forms]) => ({
		scenario,
		others: scenariosRead(forms)
	}));
}

/**
 * For each scenario itself and all those that its pages show figures of: what it looks back through, what its formulas
 * read, however far, and its targets.
 */
export async function shownWith(db: Knex): Promise<Map<string, Set<string>>> {
	const scenarios = await stored.rows(LeaningRow, db('scenario').select('code', 'follows', 'target'));
	const direct = new Map<string, string[]>(
		scenarios.map((s) => [s.code, [s.follows, s.target].filter((c) => c !== null)])
	);
	for (const { scenario, others } of await readingOthers(db)) direct.get(scenario)?.push(...others);
	return reachFrom(direct);
}

async function shownThroughToday(db: Knex): Promise<ShownThrough[]> {
	const scenarios = await listScenarios(db);
	if (scenarios.every((s) => s.visibility === 'all')) return [];
	const { departments } = (await companyState(db)).structure;
	const reads = new Map((await readingOthers(db)).map((r) => [r.scenario, r.others]));
	return shownThrough(scenarios, reads, await activeUsers(db), departments);
}

/**
 * Makes a change to who sees what, or to what figures rest on, and keeps it only where nobody is then shown figures of a
 * scenario that they may not see. What was so before is not held against it.
 * @throws Refusal 422 with the way out, named as far as the user may know of it
 */
export async function keepingToThoseWhoSee<T>(context: Within, change: () => Promise<T>): Promise<T> {
	const { db: trx } = context;
	const keyOf = (s: ShownThrough) => JSON.stringify([s.scenario, s.through, s.user]);
	const before = new Set((await shownThroughToday(trx)).map(keyOf));
	const made = await change();
	const told = (await shownThroughToday(trx)).filter((s) => !before.has(keyOf(s)));
	if (!told.length) return made;
	const { scenario, through } = told[0];
	const who = told.filter((s) => s.scenario === scenario && s.through === through).map((s) => s.user);
	const [above, below] = [await namedFor(context, [scenario]), await namedFor(context, [through])];
	const known = (await visibleScenarios(context)).some((s) => s.code === scenario);
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
