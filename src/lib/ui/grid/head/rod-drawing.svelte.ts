/** Drawing over the rod with the pointer: from one month to another, whichever comes first. */
import type { Span } from '../../../core/calendar/spans';

export class RodDrawing {
	#from: Span | null = $state.raw(null);
	#to: Span | null = $state.raw(null);

	/** What is being drawn over; null while nothing is, or it has not left its first column. */
	get span(): Span | null {
		const [a, b] = [this.#from, this.#to];
		if (!a || !b || a.from === b.from) return null;
		return { from: Math.min(a.from, b.from), to: Math.max(a.to, b.to) };
	}
	press(at: Span): void {
		[this.#from, this.#to] = [at, at];
	}
	move(at: Span): void {
		if (this.#from) this.#to = at;
	}
	/** @returns what was drawn over */
	release(): Span | null {
		const { span } = this;
		[this.#from, this.#to] = [null, null];
		return span;
	}
}
