/** Changing a tree of the company on its page: in forms, by keys, asked for once more where figures would go, taken back. */
import { tick } from 'svelte';
import type { Move } from '../../core/company/move';
import type { TreeItem } from '../../core/company/tree';
import type { MovedFigures } from '../../core/views/chart-row';
import { ApiError, patch, remove } from '../kit/api';
import { notices } from '../kit/notices.svelte';
import { reread } from '../kit/reread';
import { counted } from '../writing/count';
import { droppedAt, stepOf, type Edge } from './steps';

/** What differs, and before which one of the same parent it is to stand. */
export type Change<T> = Partial<T> & { before?: string | null };
/** A change that waits to be asked for once more. */
export interface Asked<T> {
	item: T;
	change: Change<T>;
	moved: MovedFigures[];
	/** Who would see figures that they do not see now. */
	seenBy: string[];
}

export interface TreeSource<T> {
	readonly items: readonly T[];
	/** Its place in the API, and what one of them is called. */
	readonly path: string;
	readonly one: string;
	/** What of an item moves figures when it changes. */
	readonly counts: readonly (keyof T & string)[];
	/** What is said of a change that has words of its own. */
	readonly says?: (item: T, change: Change<T>) => string | undefined;
	/** Puts one back that was taken out, before another of its parent. */
	readonly putBack: (item: T, before: string | null) => Promise<unknown>;
}

export class TreeChanges<T extends TreeItem> {
	readonly #source: TreeSource<T>;
	/** Under which one others are added; null within it is the top. */
	adding = $state.raw<{ under: T | null } | null>(null);
	editing = $state.raw<T | null>(null);
	asking = $state.raw<Asked<T> | null>(null);
	/** What is wrong with what stands in the form. */
	problem = $state('');
	/** What a change would do is being calculated. */
	busy = $state(false);

	constructor(source: TreeSource<T>) {
		this.#source = source;
	}

	/** All of the tree, in its order. */
	get items(): readonly T[] {
		return this.#source.items;
	}
	edit(item: T): void {
		this.problem = '';
		this.editing = item;
	}
	add(under: T | null): void {
		this.adding = { under };
	}
	nameOf(code: string | null): string {
		return code === null ? 'the top' : (this.#source.items.find((i) => i.code === code)?.name ?? code);
	}

	/** Changes an item; where figures would move, it is asked before. */
	async change(item: T, change: Change<T>, sure = false): Promise<void> {
		if (!Object.keys(change).length) {
			this.editing = null;
			return;
		}
		const path = this.#pathOf(item.code);
		if (this.busy) return;
		this.busy = true;
		const counts = this.#source.counts.some((key) => key in change && change[key] !== item[key]);
		try {
			if (counts && !sure) {
				const { moved, seenBy = [] } = await patch<{ moved: MovedFigures[]; seenBy?: string[] }>(path, {
					...change,
					dry: true
				});
				if (moved.length || seenBy.length) {
					this.editing = null;
					this.asking = { item, change, moved, seenBy };
					return;
				}
			}
			const undo = this.#before(item, change);
			await patch(path, change);
			this.editing = this.asking = null;
			await reread();
			notices.say(
				this.#source.says?.(item, change) ?? `${change.name ?? item.name} is changed, in all scenarios.`,
				false,
				{
					label: 'Undo',
					run: () => void this.#act(() => patch(path, undo), `${item.name} is as it was.`)
				}
			);
		} catch (e) {
			this.asking = null;
			if (this.editing) this.problem = wordsOf(e);
			else notices.say(wordsOf(e), true);
		} finally {
			this.busy = false;
		}
	}
	async added(made: readonly T[]): Promise<void> {
		this.adding = null;
		await reread();
		const [one, is] =
			made.length === 1 ? [made[0].name, 'is'] : [counted(made.length, this.#source.one), 'are'];
		notices.say(`${one} ${is} added.`, false, {
			label: 'Undo',
			run: () =>
				void this.#act(
					async () => {
						// Those underneath first.
						for (const { code } of made.toReversed()) await remove(this.#pathOf(code));
					},
					made.length === 1 ? `${one} is gone again.` : 'They are gone again.'
				)
		});
	}
	async take(item: T): Promise<void> {
		const next = this.#next(item);
		try {
			await remove(this.#pathOf(item.code));
			await reread();
			notices.say(`${item.name} is removed.`, false, {
				label: 'Undo',
				run: () => void this.#act(() => this.#source.putBack(item, next), `${item.name} is there again.`)
			});
		} catch (e) {
			notices.say(wordsOf(e), true);
		}
	}
	/** Alt with an arrow moves the item whose row has the focus, which goes with it. */
	async onkeydown(event: KeyboardEvent, item: T): Promise<void> {
		if (!event.altKey) return;
		const to = stepOf(event.key, item.code, this.#source.items);
		if (!to) return;
		event.preventDefault();
		await this.#move(item, to);
		await tick();
		document.querySelector<HTMLElement>(`[data-item="${CSS.escape(item.code)}"] button`)?.focus();
	}

	/** An item is dropped on another's row. */
	async drop(code: string, on: string, edge: Edge): Promise<void> {
		const item = this.#source.items.find((i) => i.code === code);
		const to = item && droppedAt(code, on, edge, this.#source.items);
		if (to) await this.#move(item, to);
	}

	#move(item: T, to: Move): Promise<void> {
		return this.change(item, (to.parent === item.parent ? { before: to.before } : to) as Change<T>);
	}
	#pathOf(code: string): string {
		return `${this.#source.path}/${encodeURIComponent(code)}`;
	}
	/** The one that it stands before. */
	#next(item: T): string | null {
		const siblings = this.#source.items.filter((i) => i.parent === item.parent);
		return siblings[siblings.findIndex((i) => i.code === item.code) + 1]?.code ?? null;
	}
	/** What it was, of what is changed. */
	#before(item: T, change: Change<T>): Change<T> {
		const own = Object.fromEntries(
			Object.keys(change)
				.filter((key) => key in item)
				.map((key) => [key, item[key as keyof T]])
		);
		const place = 'parent' in change || 'before' in change;
		return { ...own, ...(place ? { parent: item.parent, before: this.#next(item) } : {}) } as Change<T>;
	}
	async #act(work: () => Promise<unknown>, words: string): Promise<void> {
		try {
			await work();
			await reread();
			notices.say(words);
		} catch (e) {
			notices.say(wordsOf(e), true);
		}
	}
}

const wordsOf = (e: unknown) => (e instanceof ApiError ? e.message : 'It was not changed.');
