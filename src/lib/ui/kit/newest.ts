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
