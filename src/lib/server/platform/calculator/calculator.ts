/** Hands long calculations to worker threads; each can be called off and is ended when it takes too long. */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import type { CalculationResults } from '../../../core/engine/calculation';
import { ModelError } from '../../../core/engine/spec';
import type { ScenarioPackage } from '../../../core/scenario/package';
import { Thread, type Started } from '../../../core/thread';
import type { Calculated, CalculatorWork } from './worker';

/** After this a calculation is ended. */
export const LONGEST_MS = 60_000;
/** So many at a time; more wait their turn. */
const WORKERS = 2;

/** The built worker beside the built server, or the source beside this one. */
function workerFile(): string {
	const here = dirname(fileURLToPath(import.meta.url));
	for (let folder = here; ; folder = dirname(folder)) {
		const built = join(folder, 'calculator.js');
		if (existsSync(built)) return built;
		if (folder === dirname(folder)) break;
	}
	return join(here, 'worker-source.mjs');
}

function startWorker(): Started {
	const worker = new Worker(workerFile());
	const started: Started = {
		endpoint: nodeEndpoint(worker),
		end: () => void worker.terminate(),
		failed(hear) {
			worker.on('error', hear);
			worker.on('exit', () => hear(new Error('The calculation ended unexpectedly.')));
		}
	};
	// A thread that waits for work keeps no process alive.
	worker.unref();
	return started;
}

const idle = Array.from({ length: WORKERS }, () => new Thread<CalculatorWork>(startWorker));
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
