/** A batch of typed cells that are not saved yet, with undo and redo that reach back over saves. */

import type { Entered } from '../entered';

/** @template V what can be typed: figures alone, unless it is said otherwise */
export interface Edit<V extends Entered = number | null> {
	row: string;
	column: string;
	/** What is saved there. */
	before: V;
	/** Null takes the typed value away. */
	value: V;
}

/** One cell of a step: what was to stand there before it, and after it. */
interface Change<V> {
	row: string;
	column: string;
	from: V;
	to: V;
}

const keyOf = (row: string, column: string) => `${row}\u0000${column}`;
const MOST_STEPS = 500;

/** Rows fall into so many groups: who looks at a cell hears of what is typed in its own row's group alone. */
const GROUPS = 64;
class Version {
	now = $state(0);
}
function groupOf(row: string): number {
	let hash = 0;
	for (let i = 0; i < row.length; i++) hash = (hash * 31 + row.charCodeAt(i)) | 0;
	return (hash >>> 0) % GROUPS;
}

export class EditBatch<V extends Entered = number | null> {
	readonly #cells = new Map<string, Edit<V>>();
	/** Raised once a step: who reads all of it hears of fifty thousand pasted ones as of one. */
	#version = $state(0);
	/** The same of cells, by the group of their row. */
	readonly #groups = Array.from({ length: GROUPS }, () => new Version());
	/** What is saved in the cells that were ever typed here. */
	readonly #saved = new Map<string, V>();
	/** On its way to the server. */
	#sent: Edit<V>[] = [];
	#done: Change<V>[][] = $state.raw([]);
	#undone: Change<V>[][] = $state.raw([]);

	get count(): number {
		void this.#version;
		return this.#cells.size;
	}
	get canUndo(): boolean {
		return this.#done.length > 0;
	}
	get canRedo(): boolean {
		return this.#undone.length > 0;
	}
	get list(): Edit<V>[] {
		void this.#version;
		return [...this.#cells.values()];
	}
	at(row: string, column: string): Edit<V> | undefined {
		void this.#groups[groupOf(row)].now;
		return this.#cells.get(keyOf(row, column));
	}

	/** Takes up edits as one step. A cell put back to what is saved is no edit any more. */
	apply(edits: readonly Edit<V>[]): void {
		if (!edits.length) return;
		const step = edits.map(({ row, column, before, value }): Change<V> => {
			const key = keyOf(row, column);
			const pending = this.#cells.get(key);
			if (!pending) this.#saved.set(key, before);
			return { row, column, from: pending ? pending.value : before, to: value };
		});
		this.#done = [...this.#done.slice(-MOST_STEPS), step];
		this.#undone = [];
		for (const { row, column, to } of step) this.#put(row, column, to);
		this.#raise(step);
	}
	undo(): void {
		const last = this.#done.at(-1);
		if (!last) return;
		this.#done = this.#done.slice(0, -1);
		this.#undone = [...this.#undone, last];
		for (const { row, column, from } of [...last].reverse()) this.#put(row, column, from);
		this.#raise(last);
	}
	redo(): void {
		const next = this.#undone.at(-1);
		if (!next) return;
		this.#undone = this.#undone.slice(0, -1);
		this.#done = [...this.#done, next];
		for (const { row, column, to } of next) this.#put(row, column, to);
		this.#raise(next);
	}
	/** What is to be saved, as it stands now; typing goes on meanwhile. */
	send(): Edit<V>[] {
		this.#sent = this.list;
		return this.#sent;
	}
	/**
	 * What was sent is saved now; what was typed or undone since stays to be saved. The steps stay, so that undoing
	 * them types the former values again.
	 */
	saved(): void {
		for (const { row, column, before, value } of this.#sent) {
			const key = keyOf(row, column);
			const now = this.#cells.get(key);
			this.#saved.set(key, value);
			this.#put(row, column, now ? now.value : before);
		}
		const sent = this.#sent;
		this.#sent = [];
		this.#raise(sent);
	}
	/** Somebody else has saved another value in a cell. */
	rebase(row: string, column: string, saved: V): void {
		const key = keyOf(row, column);
		const pending = this.#cells.get(key);
		this.#saved.set(key, saved);
		if (pending) this.#put(row, column, pending.value);
		this.#raise([{ row }]);
	}
	/** Forgets everything: to discard, or when other cells are shown. */
	clear(): void {
		const all = [...this.#cells.values()];
		this.#sent = [];
		this.#cells.clear();
		this.#saved.clear();
		this.#done = [];
		this.#undone = [];
		this.#raise(all);
	}
	/** Tells of changes in these rows. */
	#raise(rows: readonly { row: string }[]): void {
		for (const group of new Set(rows.map(({ row }) => groupOf(row)))) this.#groups[group].now++;
		this.#version++;
	}
	#put(row: string, column: string, value: V): void {
		const key = keyOf(row, column);
		const before = this.#saved.get(key) ?? (null as V);
		if (value === before) this.#cells.delete(key);
		else this.#cells.set(key, { row, column, before, value });
	}
}
