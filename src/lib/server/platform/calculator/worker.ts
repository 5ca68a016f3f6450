/** Calculates scenarios in a thread of its own, so that a long one keeps nobody waiting. */
import { parentPort } from 'node:worker_threads';
import { ModelError } from '../../../core/engine/spec';
import type { CalculationResults } from '../../../core/engine/calculation';
import { calculateScenario } from '../../../core/scenario/assemble';
import { unpackScenario, type ScenarioPackage } from '../../../core/scenario/package';

export type WorkerAnswer =
	| { results: CalculationResults }
	| { refused: { block: string; line: string; message: string } }
	| { failed: string };

function answer(parcel: ScenarioPackage): WorkerAnswer {
	try {
		const { structure, data } = unpackScenario(parcel);
		return { results: calculateScenario(structure, data).calculation.results() };
	} catch (e) {
		if (e instanceof ModelError) return { refused: { block: e.block, line: e.line, message: e.message } };
		return { failed: e instanceof Error ? e.message : String(e) };
	}
}

parentPort?.on('message', (parcel: ScenarioPackage) => {
	const said = answer(parcel);
	const buffers =
		'results' in said
			? said.results.flatMap(({ values, marks }) => [values.buffer, ...(marks ? [marks.buffer] : [])])
			: [];
	parentPort!.postMessage(said, buffers as ArrayBuffer[]);
});
