/** Hands long calculations to worker threads; each can be called off and is ended when it takes too long. */
import type { CalculationResults } from '../../../core/engine/calculation';
import { ModelError } from '../../../core/engine/spec';
import type { ScenarioPackage } from '../../../core/scenario/package';
import { Thread } from '../../../core/thread';
import { startWorker } from '../worker-thread';
import type { Calculated, CalculatorWork } from './worker';

/** After this a calculation is ended. */
export const LONGEST_MS = 60_000;
/** So many at a time; more wait their turn. */
const WORKERS = 2;

const idle = Array.from(
	{ length: WORKERS },
	() => new Thread<CalculatorWork>(() => startWorker('calculator'))
);
const queue: ((thread: Thread<CalculatorWork>) => void)[] = [];

async function turn(): Promise<Thread<CalculatorWork>> {
	return idle.pop() ?? new Promise((go) => queue.push(go));
}
function done(thread: Thread<CalculatorWork>): void {
	const next = queue.shift();
	if (next) next(thread);
	else idle.push(thread);
}

/**
 * Calculates a scenario elsewhere.
 * @throws CalledOff when the signal says so or it takes too long; ModelError as when calculated here
 */
export async function calculateElsewhere(
	parcel: ScenarioPackage,
	signal?: AbortSignal,
	longest = LONGEST_MS
): Promise<CalculationResults> {
	const thread = await turn();
	try {
		const answer = await thread.ask<Calculated>((work) => work.calculate(parcel), { signal, longest });
		if ('results' in answer) return answer.results;
		throw new ModelError(answer.refused.block, answer.refused.line, answer.refused.message);
	} finally {
		done(thread);
	}
}
