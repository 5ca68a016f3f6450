/** What a form that is not saved yet gives, worked out in a thread of the browser. */
import { Newest } from '../kit/newest';

/** @template F figures */
export class DesignPreview<F> {
	figures: F | null = $state.raw(null);
	/** Why it cannot be calculated; empty when it can. */
	problem = $state('');

	readonly #thread: { close(): void };
	readonly #newest = new Newest();

	/** @param thread in which it is asked; it ends with the page */
	constructor(thread: { close(): void }) {
		this.#thread = thread;
	}

	show(ask: () => Promise<F>): void {
		this.#newest.run(async () => {
			try {
				this.figures = await ask();
				this.problem = '';
			} catch (e) {
				this.problem = e instanceof Error ? e.message : String(e);
			}
		});
	}
	/** Nothing is shown while the form has mistakes. */
	clear(): void {
		this.#newest.drop();
		this.figures = null;
		this.problem = '';
	}
	close(): void {
		this.#thread.close();
	}
}
