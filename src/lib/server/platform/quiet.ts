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
		if (!underWay) for (const go of waiting.splice(0)) go();
	}
}
/** Told once nothing is under way. */
const waiting: (() => void)[] = [];

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
/** Work in steps goes on for so long before it is heard whether somebody asks something (milliseconds). */
const LONGEST_STEP = 40;

/** Work that nobody waits for, in steps: between them others have their turn, until somebody has come to wait for it. */
export class Ahead {
	#waitedFor = false;
	#come = () => {};
	readonly #somebody = new Promise<void>((come) => (this.#come = come));

	/** Somebody waits for it from now on. */
	waitFor(): void {
		this.#waitedFor = true;
		this.#come();
	}

	/** To be awaited between two steps. */
	async next(): Promise<void> {
		if (this.#waitedFor) return;
		await setTimeout(HEARING_MS, undefined, { ref: false });
		if (underWay && !this.#waitedFor)
			await Promise.race([new Promise<void>((go) => waiting.push(go)), this.#somebody]);
	}
}

/** Does work that is made of steps: at once, or with others in between. */
export async function inSteps<T>(work: Generator<void, T>, ahead: Ahead | null): Promise<T> {
	let begun = performance.now();
	for (;;) {
		const step = work.next();
		if (step.done) return step.value;
		if (!ahead || performance.now() - begun < LONGEST_STEP) continue;
		await ahead.next();
		begun = performance.now();
	}
}
