/** Reads workbooks in a thread of its own: large ones take seconds. */
import { parentPort } from 'node:worker_threads';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { readWorkbook } from './read';

export interface WorksheetWork {
	read: typeof readWorkbook;
}

const work: WorksheetWork = { read: readWorkbook };
if (parentPort) expose(work, nodeEndpoint(parentPort));
