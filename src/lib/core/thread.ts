/** Work done in a thread of its own and called as if it were here: one way for a browser's worker and for one of Node. */
import { wrap, type Endpoint, type Remote } from 'comlink';

/** A thread that has been started and answers at `endpoint` (with `expose` of comlink). */
export interface Started {
	endpoint: Endpoint;
	/** Ends it at once, whatever it is doing. */
	end(): void;
	/** Tells when it ends of itself or breaks, and why. */
	failed(hear: (why: Error) => void): void;
}

/** What was asked has been called off, or took too long. */
export class CalledOff extends Error {
	constructor(readonly reason: 'called-off' | 'too-long') {
		super(reason === 'too-long' ? 'The calculation took too long.' : 'The calculation was called off.');
	}
}

/** A thread that is started by its first question, and anew by the first one after it has ended. */
export class Thread<Work extends object> {
	#running: { work: Remote<Work>; end(): void } | null = null;
	/** Those who wait for an answer. */
	readonly #waiting = new Set<(why: Error) => void>();

	/** @param start starts the thread; whatever it held is gone when it is started again */
	constructor(private readonly start: () => Started) {}

	/** Whether it has been started and not ended. */
	get running(): boolean {
		return this.#running !== null;
	}

	/** Starts the thread, so that it is ready when what it is to be asked is. */
	begin(): void {
		this.#running ??= this.#begin();
	}

	/**
	 * Asks the thread. Who calls off, or waits `longest`, ends it: it is busy, and hears nothing meanwhile.
	 * @param limits `longest` in milliseconds
	 * @throws CalledOff, for all who wait when the thread is ended; Error with the thread's own words when it refuses
	 */
	async ask<T>(
		question: (work: Remote<Work>) => Promise<T>,
		limits: { signal?: AbortSignal; longest?: number } = {}
	): Promise<T> {
		const { signal, longest } = limits;
		if (signal?.aborted) throw new CalledOff('called-off');
		const { work } = (this.#running ??= this.#begin());
		const callOff = () => this.end();
		const timer = longest ? setTimeout(() => this.end(new CalledOff('too-long')), longest) : undefined;
		let stop: (why: Error) => void = () => {};
		try {
			return await new Promise<T>((answer, fail) => {
				stop = fail;
				this.#waiting.add(fail);
				signal?.addEventListener('abort', callOff);
				question(work).then(answer, fail);
			});
		} finally {
			clearTimeout(timer);
			signal?.removeEventListener('abort', callOff);
			this.#waiting.delete(stop);
		}
	}

	/** Ends the thread; whoever waits for it hears why. */
	end(why: Error = new CalledOff('called-off')): void {
		this.#running?.end();
		this.#running = null;
		for (const fail of this.#waiting) fail(why);
		this.#waiting.clear();
	}

	#begin() {
		const started = this.start();
		const running = { work: wrap<Work>(started.endpoint), end: () => started.end() };
		// One that has been ended already has nobody left to tell.
		started.failed((why) => this.#running === running && this.end(why));
		return running;
	}
}
