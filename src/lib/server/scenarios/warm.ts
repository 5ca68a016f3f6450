/** A server that has just started calculates what people will ask for first, before they ask. */
import type { Knex } from 'knex';
import { whenQuiet } from '../platform/quiet';
import * as stored from '../platform/db/stored';
import { scenariosAhead } from '../platform/settings';
import { planAhead } from './plans';
import { ACTUALS, listScenarios } from './scenarios';
import { defaultScenario } from './selection';

/**
 * One scenario after the other, step by step, while nobody waits. What cannot be calculated is told to those who open it.
 */
export async function warmUp(db: Knex): Promise<void> {
	const most = scenariosAhead();
	if (!most) return;
	await whenQuiet();
	const scenarios = await listScenarios(db);
	const latestFirst = [...scenarios].sort((a, b) => (b.actualsThrough ?? 0) - (a.actualsThrough ?? 0));
	const begin = [ACTUALS, ...(await collected(db)), defaultScenario(scenarios)?.code];
	const order = [...new Set([...begin, ...latestFirst.map((s) => s.code)])];
	for (const code of order.slice(0, most)) {
		await whenQuiet();
		if (code !== undefined) await planAhead(db, code).catch(() => {});
	}
}

/** Scenarios in which departments have figures to give: many people are there at once. */
const collected = (db: Knex): Promise<string[]> =>
	stored.texts(
		db('submission')
			.join('round', 'round.code', 'submission.round')
			.whereIn('state', ['returned', 'drafting', 'not started'])
			.distinct()
			.pluck('scenario')
	);
