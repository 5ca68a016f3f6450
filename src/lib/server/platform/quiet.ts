/** Work that nobody waits for is done while nobody waits for anything else. */
import { setTimeout } from 'node:timers/promises';

let underWay = 0;
let lastEnd = 0;

/** A request, as long as it is under way. */
export async function request<T>(answer: () => Promise<T>): Promise<T> {
	underWay++;
	try {
		return await answer();
	} finally {
		underWay--;
		lastEnd = performance.now();
	}
}

/** One request often follows another. */
const PAUSE_MS = 150;

/** Resolves when nothing has been asked for a moment. */
export async function whenQuiet(): Promise<void> {
	// A server that ends does not wait for it.
	do await setTimeout(PAUSE_MS, undefined, { ref: false });
	while (underWay || performance.now() - lastEnd < PAUSE_MS);
}
