/** A batch of typed cells that are not saved yet, with undo and redo. */
import { SvelteMap } from 'svelte/reactivity';

export interface Edit {
	row: string;
	column: string;
	/** What stood there when the page was loaded. */
	before: number | null;
	/** Null takes the typed value away. */
	value: number | null;
}

const keyOf = (row: string, column: string) => `${row}\u0000${column}`;

export class EditBatch {
	readonly #cells = new SvelteMap<string, Edit>();
	#done: Map<string, Edit>[] = $state([]);
	#undone: Map<string, Edit>[] = $state([]);

	get count(): number {
		return this.#cells.size;
	}
	get canUndo(): boolean {
		return this.#done.length > 0;
	}
	get canRedo(): boolean {
		return this.#undone.length > 0;
	}
	get list(): Edit[] {
		return [...this.#cells.values()];
	}
	at(row: string, column: string): Edit | undefined {
		return this.#cells.get(keyOf(row, column));
	}

	/** Takes up edits as one step. A cell put back to what it was is no edit any more. */
	apply(edits: readonly Edit[]): void {
		if (!edits.length) return;
		this.#done = [...this.#done, new Map(this.#cells)];
		this.#undone = [];
		for (const edit of edits) {
			const key = keyOf(edit.row, edit.column);
			if (edit.value === edit.before) this.#cells.delete(key);
			else this.#cells.set(key, edit);
		}
	}
	undo(): void {
		const last = this.#done.at(-1);
		if (!last) return;
		this.#undone = [...this.#undone, new Map(this.#cells)];
		this.#done = this.#done.slice(0, -1);
		this.#replace(last);
	}
	redo(): void {
		const next = this.#undone.at(-1);
		if (!next) return;
		this.#done = [...this.#done, new Map(this.#cells)];
		this.#undone = this.#undone.slice(0, -1);
		this.#replace(next);
	}
	/** Forgets everything: after a save, or to discard. */
	clear(): void {
		this.#cells.clear();
		this.#done = [];
		this.#undone = [];
	}
	#replace(cells: Map<string, Edit>): void {
		this.#cells.clear();
		for (const [key, edit] of cells) this.#cells.set(key, edit);
	}
}
