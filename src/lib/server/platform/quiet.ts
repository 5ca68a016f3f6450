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

/** So long it takes to hear that somebody asks something: a connection, then what it asks (milliseconds). */
const HEARING_MS = 5;

/** Between two steps of such work: what is quick has its turn. */
export const betweenSteps = (): Promise<void> => setTimeout(HEARING_MS, undefined, { ref: false });

/** Such work goes on for so long before others have their turn (milliseconds). */
const LONGEST_STEP = 40;

/** Does work that is made of steps; at once where somebody waits for it, else so that others have their turn. */
export async function inSteps<T>(work: Generator<void, T>, aside: boolean): Promise<T> {
	let begun = performance.now();
	for (;;) {
		const step = work.next();
		if (step.done) return step.value;
		if (!aside || performance.now() - begun < LONGEST_STEP) continue;
		await betweenSteps();
		begun = performance.now();
	}
}
