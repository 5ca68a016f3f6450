/** Hands long calculations to worker threads; each can be called off and is ended when it takes too long. */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import type { CalculationResults } from '../../../core/engine/calculation';
import { ModelError } from '../../../core/engine/spec';
import type { ScenarioPackage } from '../../../core/scenario/package';
import type { WorkerAnswer } from './worker';

/** After this a calculation is ended. */
export const LONGEST_MS = 60_000;
/** So many at a time; more wait their turn. */
const WORKERS = 2;

/** The calculation was called off or took too long. */
export class CalledOff extends Error {
	constructor(readonly reason: 'called-off' | 'too-long') {
		super(reason === 'too-long' ? 'The calculation took too long.' : 'The calculation was called off.');
	}
}

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

const idle: Worker[] = [];
let running = 0;
const queue: (() => void)[] = [];

async function turn(): Promise<void> {
	if (running >= WORKERS) await new Promise<void>((go) => queue.push(go));
	running++;
}
function done(): void {
	running--;
	queue.shift()?.();
}

function freshWorker(): Worker {
	const worker = new Worker(workerFile());
	// A thread that waits for work keeps no process alive.
	worker.unref();
	return worker;
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
	await turn();
	try {
		if (signal?.aborted) throw new CalledOff('called-off');
		const worker = idle.pop() ?? freshWorker();
		const answer = await ask(worker, parcel, signal, longest);
		idle.push(worker);
		if ('results' in answer) return answer.results;
		if ('failed' in answer) throw new Error(answer.failed);
		throw new ModelError(answer.refused.block, answer.refused.line, answer.refused.message);
	} finally {
		done();
	}
}

/** A worker that does not answer in time is ended; a new one takes the next turn. */
function ask(
	worker: Worker,
	parcel: ScenarioPackage,
	signal: AbortSignal | undefined,
	longest: number
): Promise<WorkerAnswer> {
	return new Promise((answer, fail) => {
		const end = (why: Error) => {
			settle();
			void worker.terminate();
			fail(why);
		};
		const callOff = () => end(new CalledOff('called-off'));
		const timer = setTimeout(() => end(new CalledOff('too-long')), longest).unref();
		const onMessage = (said: WorkerAnswer) => {
			settle();
			answer(said);
		};
		const onError = (e: Error) => end(e);
		const onExit = () => end(new Error('The calculation ended unexpectedly.'));
		const settle = () => {
			clearTimeout(timer);
			signal?.removeEventListener('abort', callOff);
			worker.off('message', onMessage).off('error', onError).off('exit', onExit);
		};
		signal?.addEventListener('abort', callOff);
		worker.on('message', onMessage).on('error', onError).on('exit', onExit);
		worker.postMessage(parcel);
	});
}
