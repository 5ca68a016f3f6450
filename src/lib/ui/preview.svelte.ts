/** Figures as they would be with what is typed and not saved yet, worked out in a thread of the browser. */
import type { ModelQuery } from '../core/plan/model-view';
import type { PreviewChanges, PreviewEdit } from '../core/plan/preview';
import type { PreviewAnswer, PreviewRequest } from './preview.worker';

export class LivePreview {
	/** Rows that differ by what is typed; null while nothing is typed, or until the first answer. */
	changes: PreviewChanges | null = $state.raw(null);

	#worker: Worker | null = null;
	/** What the worker holds: a scenario at a revision. */
	#loaded = '';
	#asked = 0;
	#busy = false;
	/** Only the newest question counts; those between are left out. */
	#next: (() => void) | null = null;

	/**
	 * Asks for the figures with these cells typed.
	 * @param scenario its code
	 * @param version changes whenever the saved figures may have changed
	 */
	show(scenario: string, version: unknown, edits: PreviewEdit[], query: ModelQuery): void {
		if (!edits.length) {
			this.#asked++;
			this.#next = null;
			this.changes = null;
			return;
		}
		const ask = () => void this.#ask(scenario, version, edits, query);
		if (this.#busy) this.#next = ask;
		else ask();
	}

	/** Ends the thread. */
	close(): void {
		this.#worker?.terminate();
		this.#worker = null;
		this.#loaded = '';
	}

	async #ask(scenario: string, version: unknown, edits: PreviewEdit[], query: ModelQuery): Promise<void> {
		this.#busy = true;
		const id = ++this.#asked;
		try {
			const worker = await this.#ready(scenario, String(version));
			const answer = await new Promise<PreviewAnswer>((resolve, reject) => {
				worker.onmessage = ({ data }: MessageEvent<PreviewAnswer>) => resolve(data);
				worker.onerror = (e) => reject(new Error(e.message));
				worker.postMessage({ kind: 'figures', id, edits, query } satisfies PreviewRequest);
			});
			if (answer.id === this.#asked && 'changes' in answer) this.changes = answer.changes;
		} catch {
			// Without a preview the saved figures stand; saving calculates anew.
			this.close();
			this.changes = null;
		} finally {
			this.#busy = false;
			const next = this.#next;
			this.#next = null;
			next?.();
		}
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
