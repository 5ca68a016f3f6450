/** The focus among the rows of a list whose rows have buttons: Tab leads to one row, the arrow keys to the others. */
import { tick } from 'svelte';
import type { Growing } from './growing.svelte';
import { rowStep } from './row-keys';

export interface RowFocusSource {
	/** What each row is known by, in the order of the list. */
	readonly keys: readonly string[];
	/** How far the list is drawn. */
	readonly growing: Growing;
	/** Where its rows are, the first of the list first. */
	readonly body: HTMLTableSectionElement | undefined;
}

export class RowFocus {
	readonly #source: RowFocusSource;
	#at = $state<string | null>(null);
	/** The row that Tab leads to. */
	readonly reached = $derived.by(() => {
		const { keys } = this.#source;
		return this.#at !== null && keys.includes(this.#at) ? this.#at : keys[0];
	});

	constructor(source: RowFocusSource) {
		this.#source = source;
	}

	/** To be told when the focus comes into a row. */
	come(key: string): void {
		this.#at = key;
	}
	/** Of the buttons of a row. */
	tabindex(key: string): 0 | -1 {
		return key === this.reached ? 0 : -1;
	}
	/** Arrow keys, Home, End, Page Up and Page Down on a button of a row. */
	async onkeydown(event: KeyboardEvent, key: string): Promise<void> {
		if (event.altKey || event.ctrlKey || event.metaKey || event.shiftKey) return;
		const { keys, growing, body } = this.#source;
		const own = buttonsIn(event.currentTarget as HTMLElement);
		const at = { row: keys.indexOf(key), button: own.indexOf(document.activeElement as HTMLElement) };
		const to = at.button < 0 ? null : rowStep(event.key, at, keys.length, own.length);
		if (!to) return;
		event.preventDefault();
		// Rows are drawn as far as they are looked at.
		growing.reach(to.row);
		await tick();
		const there = buttonsIn(body!.rows[to.row]);
		there[Math.min(to.button, there.length - 1)]?.focus();
	}
}
const buttonsIn = (row: HTMLElement) => [...row.querySelectorAll<HTMLElement>('button')];
