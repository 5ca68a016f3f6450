/** Figures as they would be with what is typed and not saved yet, worked out in a thread of the browser. */
import type { ModelQuery } from '../../core/views/model-view';
import type { PreviewChanges } from '../../core/views/preview';
import type { TypedCell } from '../../core/inputs/cell';
import { Newest } from '../kit/newest';
import { previewThread } from './preview-thread';

export class LivePreview {
	/** Rows that differ by what is typed; null while nothing is typed, or until the first answer. */
	changes: PreviewChanges | null = $state.raw(null);

	readonly #thread = previewThread();
	readonly #newest = new Newest();
	#wanted = 0;

	/**
	 * Asks for the figures with these cells typed.
	 * @param scenario its code
	 * @param version changes whenever the saved figures may have changed
	 */
	show(scenario: string, version: unknown, edits: TypedCell[], query: ModelQuery): void {
		const wanted = ++this.#wanted;
		if (!edits.length) {
			this.#newest.drop();
			this.changes = null;
			return;
		}
		this.#newest.run(async () => {
			try {
				const { model } = query;
				const changes = await this.#thread.ask({ scenario, model }, version, (work) =>
					work.changes(edits, query)
				);
				if (wanted === this.#wanted) this.changes = changes;
			} catch {
				// Without a preview the saved figures stand; saving calculates anew.
				this.close();
				this.changes = null;
			}
		});
	}

	/** Makes the thread ready before anything is typed, so that the first answer does not wait for it. */
	warm(scenario: string, version: unknown, query: ModelQuery): void {
		this.#newest.run(async () => {
			const { model } = query;
			await this.#thread
				.ask({ scenario, model }, version, (work) => work.changes([], query))
				.catch(() => this.close());
		});
	}

	/** Ends the thread. */
	close(): void {
		this.#thread.close();
	}
}
