/** A server that has just started calculates what people will ask for first, before they ask. */
import type { Knex } from 'knex';
import { whenQuiet } from '../platform/quiet';
import { planOf } from './plans';
import { ACTUALS, listScenarios } from './scenarios';
import { defaultScenario } from './selection';

/** So many scenarios are calculated ahead; the others when somebody opens them. */
const MOST_AHEAD = 8;

/**
 * One scenario after the other, while nobody waits. What cannot be calculated is told to
 * those who open it.
 */
export async function warmUp(db: Knex): Promise<void> {
	await whenQuiet();
	const scenarios = await listScenarios(db);
	const latestFirst = [...scenarios].sort((a, b) => (b.actualsThrough ?? 0) - (a.actualsThrough ?? 0));
	const begin = [ACTUALS, defaultScenario(scenarios)?.code];
	const order = [...new Set([...begin, ...latestFirst.map((s) => s.code)])];
	for (const code of order.slice(0, MOST_AHEAD)) {
		await whenQuiet();
		if (code !== undefined) await planOf(db, code).catch(() => {});
	}
}
