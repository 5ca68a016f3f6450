/** A thread of the browser that holds a scenario and calculates on the same core as the server. */
import type { PreviewAnswer, PreviewQuestion, PreviewRequest } from './preview.worker';

export class ScenarioThread {
	#worker: Worker | null = null;
	/** What the worker holds: a scenario at a revision. */
	#loaded = '';
	#asked = 0;

	/**
	 * Asks one question; the caller waits for the answer before the next.
	 * @param scenario its code
	 * @param version changes whenever the saved figures may have changed
	 * @throws Error when the scenario cannot be had or calculated
	 */
	async ask<Q extends PreviewQuestion>(
		scenario: string,
		version: unknown,
		question: Q
	): Promise<PreviewAnswer<Q['kind']>> {
		const worker = await this.#ready(scenario, String(version));
		const id = ++this.#asked;
		const answer = await new Promise<{ id: number; answer?: unknown; failed?: string }>((resolve, reject) => {
			worker.onmessage = ({ data }) => resolve(data);
			worker.onerror = (e) => reject(new Error(e.message));
			worker.postMessage({ ...question, id } satisfies PreviewRequest);
		});
		if (answer.failed !== undefined) throw new Error(answer.failed);
		return answer.answer as PreviewAnswer<Q['kind']>;
	}

	/** Ends the thread. */
	close(): void {
		this.#worker?.terminate();
		this.#worker = null;
		this.#loaded = '';
	}

	async #ready(scenario: string, version: string): Promise<Worker> {
		const wanted = `${scenario}/${version}`;
		if (this.#worker && this.#loaded === wanted) return this.#worker;
		this.close();
		const response = await fetch(`/api/v1/scenarios/${encodeURIComponent(scenario)}/package`);
		if (!response.ok) throw new Error(`The server answered ${response.status}.`);
		const worker = new Worker(new URL('./preview.worker.ts', import.meta.url), { type: 'module' });
		worker.postMessage({ kind: 'load', parcel: await response.text() } satisfies PreviewRequest);
		this.#worker = worker;
		this.#loaded = wanted;
		return worker;
	}
}

/** Of many questions that come while one is answered, only the newest is asked. */
export class Newest {
	#busy = false;
	#next: (() => Promise<void>) | null = null;

	/** Runs the work now, or when what is under way has ended and nothing newer has come. */
	run(work: () => Promise<void>): void {
		if (this.#busy) this.#next = work;
		else void this.#now(work);
	}
	/** Forgets what waits. */
	drop(): void {
		this.#next = null;
	}
	async #now(work: () => Promise<void>): Promise<void> {
		this.#busy = true;
		try {
			await work();
		} finally {
			this.#busy = false;
			const next = this.#next;
			this.#next = null;
			if (next) this.run(next);
		}
	}
}
