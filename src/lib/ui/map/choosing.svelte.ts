/** Which of many rows are chosen: one, some here and there, or a run of them, by hand or by keys. */
import { rowAfter } from '../kit/rows/row-keys';

export class Choosing {
	/** Codes of those chosen. */
	chosen = $state.raw<ReadonlySet<string>>(new Set());
	/** Where the focus is, or goes when the list is reached. */
	at = $state.raw<string | null>(null);
	/** Where a run began. */
	#from: string | null = null;
	readonly #codes: () => readonly string[];

	/** @param codes those in sight, in their order */
	constructor(codes: () => readonly string[]) {
		this.#codes = codes;
	}

	/** The one that Tab reaches. */
	get reached(): string | undefined {
		const codes = this.#codes();
		return this.at !== null && codes.includes(this.at) ? this.at : codes[0];
	}
	only(code: string): void {
		this.at = this.#from = code;
		this.chosen = new Set([code]);
	}
	/** As a click does: alone; with Ctrl in or out beside others; with Shift all from where it began. */
	pick(
		code: string,
		{ shiftKey, ctrlKey, metaKey }: Pick<MouseEvent, 'shiftKey' | 'ctrlKey' | 'metaKey'>
	): void {
		if (shiftKey) this.#run(code);
		else if (ctrlKey || metaKey) this.#turn(code);
		else this.only(code);
	}
	/** What was to be done with them is done. */
	none(): void {
		this.chosen = new Set();
	}
	/**
	 * Arrow keys, Page Up and Down, Home, End lead on, and with Shift choose on the way; Space turns one in or out, Ctrl+A takes all in sight.
	 * @returns the code that the focus goes to; null where the key is for something else
	 */
	key(event: KeyboardEvent, code: string): string | null {
		const codes = this.#codes();
		const { key, shiftKey } = event;
		if (key === ' ') {
			event.preventDefault();
			this.#turn(code);
			return code;
		}
		if (key.toLowerCase() === 'a' && (event.ctrlKey || event.metaKey)) {
			event.preventDefault();
			this.chosen = new Set(codes);
			return code;
		}
		if (event.altKey || event.ctrlKey || event.metaKey) return null;
		const to = rowAfter(key, codes.indexOf(code), codes.length);
		if (to === null) return null;
		event.preventDefault();
		const next = codes[to];
		this.at = next;
		if (shiftKey) {
			this.#from ??= code;
			this.#run(next);
		}
		return next;
	}

	#turn(code: string): void {
		this.at = this.#from = code;
		const chosen = new Set(this.chosen);
		if (!chosen.delete(code)) chosen.add(code);
		this.chosen = chosen;
	}
	#run(code: string): void {
		const codes = this.#codes();
		const [a, b] = [codes.indexOf(this.#from ?? code), codes.indexOf(code)].sort((x, y) => x - y);
		this.at = code;
		this.chosen = new Set(codes.slice(Math.max(0, a), b + 1));
	}
}
