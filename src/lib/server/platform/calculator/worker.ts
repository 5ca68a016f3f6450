/** Calculates scenarios in a thread of its own, so that a long one keeps nobody waiting. */
import { parentPort } from 'node:worker_threads';
import { expose, transfer } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { ModelError } from '../../../core/engine/spec';
import type { CalculationResults } from '../../../core/engine/calculation';
import { calculateScenario } from '../../../core/scenario/assemble';
import { unpackScenario, type ScenarioPackage } from '../../../core/scenario/package';

/** A mistake in a model comes back with its place, which a thrown error would lose on its way. */
export type Calculated =
	{ results: CalculationResults } | { refused: { block: string; line: string; message: string } };

export interface CalculatorWork {
	calculate(parcel: ScenarioPackage): Calculated;
}

const work: CalculatorWork = {
	calculate(parcel) {
		try {
			const { structure, data } = unpackScenario(parcel);
			const results = calculateScenario(structure, data).calculation.results();
			const buffers = results.flatMap(({ values, marks }) => [
				values.buffer,
				...(marks ? [marks.buffer] : [])
			]);
			return transfer({ results }, buffers as ArrayBuffer[]);
		} catch (e) {
			if (!(e instanceof ModelError)) throw e;
			return { refused: { block: e.block, line: e.line, message: e.message } };
		}
	}
};
if (parentPort) expose(work, nodeEndpoint(parentPort));
