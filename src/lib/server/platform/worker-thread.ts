/** Starts worker threads: from the bundle beside the built server, or from their source where nothing is built. */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker, type ResourceLimits } from 'node:worker_threads';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import type { Started } from '../../core/thread';

function fileOf(name: string): string {
	const here = dirname(fileURLToPath(import.meta.url));
	for (let folder = here; ; folder = dirname(folder)) {
		const built = join(folder, `${name}.js`);
		if (existsSync(built)) return built;
		if (folder === dirname(folder)) break;
	}
	return join(here, name, 'worker-source.mjs');
}

/** @param name of its folder beside this file, and of its bundle */
export function startWorker(name: string, resourceLimits: ResourceLimits = {}): Started {
	const worker = new Worker(fileOf(name), { resourceLimits });
	const started: Started = {
		endpoint: nodeEndpoint(worker),
		end: () => void worker.terminate(),
		failed(hear) {
			worker.on('error', hear);
			worker.on('exit', () => hear(new Error(`The thread ended unexpectedly (${name}).`)));
		}
	};
	// A thread that waits for work keeps no process alive.
	worker.unref();
	return started;
}
