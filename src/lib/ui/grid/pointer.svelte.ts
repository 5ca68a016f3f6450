/** What the pointer does over a grid's cells: chooses blocks, draws the fill handle. */
import { drawnTo } from './editing/fill';
import { contains, type Block } from './range';
import type { Sheet } from './sheet.svelte';
import type { Place } from './types';

/** The place that something in the grid's body belongs to. */
export function placeOf(target: EventTarget | null): Place | null {
	const node = (target as Element | null)?.closest<HTMLElement>('[data-c]');
	const line = node?.closest<HTMLElement>('[data-r]');
	return node && line ? { r: Number(line.dataset.r), c: Number(node.dataset.c) } : null;
}

export class Pointer {
	readonly #sheet: Sheet;
	#draws = $state<'range' | 'fill' | null>(null);
	/** Where the fill handle is drawn to. */
	#to = $state.raw<Place | null>(null);
	/** What would be filled if the handle were let go now. */
	fills: Block | null = $derived.by(() => this.#to && drawnTo(this.#sheet.range, this.#to));

	constructor(sheet: Sheet) {
		this.#sheet = sheet;
	}
	get draws(): boolean {
		return this.#draws !== null;
	}

	/** @param handle it was pressed on the fill handle @returns whether a cell was chosen */
	press(place: Place, event: { button: number; shiftKey: boolean }, handle: boolean): boolean {
		if (event.button === 2) {
			// The menu is for what is chosen, or for the cell under it.
			if (contains(this.#sheet.range, place)) return false;
			this.#sheet.select(place);
			return true;
		}
		if (event.button !== 0) return false;
		this.#draws = handle ? 'fill' : 'range';
		if (handle) return false;
		this.#sheet.select(place, event.shiftKey);
		return true;
	}
	move(place: Place): void {
		if (this.#draws === 'fill') this.#to = place;
		else if (this.#draws === 'range') this.#sheet.select(place, true);
	}
	/** @returns the block that the fill handle was drawn over, if it was */
	release(): Block | null {
		const target = this.#draws === 'fill' ? this.fills : null;
		this.#draws = null;
		this.#to = null;
		return target;
	}
}
