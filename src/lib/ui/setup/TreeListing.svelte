<script lang="ts" generics="T extends TreeItem & { depth: number; leaf: boolean; holds: boolean }">
	import { untrack } from 'svelte';
	import type { Snippet } from 'svelte';
	import type { TreeItem } from '../../core/company/tree';
	import TextButton from '../kit/form/TextButton.svelte';
	import { Growing } from '../kit/rows/growing.svelte';
	import Listing from '../kit/Listing.svelte';
	import { RowFocus } from '../kit/rows/row-focus.svelte';
	import { droppedAt, edgeAt, type Edge } from './steps';
	import type { TreeChanges } from './tree-changes.svelte';

	/** A tree of the company as a list: names further to the right the deeper they lie, codes, and what can be done about each. */
	interface Act<I> {
		words: string;
		fits: (item: I) => boolean;
		act: (item: I) => void;
		/** The key that does the same in the row. */
		keys?: string;
	}
	interface Props {
		/** What one of them is called. */
		one: string;
		/** Those that are shown, in tree order. */
		items: readonly T[];
		/** Some are left out by a search: nothing is moved by keys among the others. */
		found: boolean;
		changes: TreeChanges<T>;
		/** Whether anything can be changed; else it is a list to read. */
		editable?: boolean;
		/** Headings of the columns behind the codes, and how many there are. */
		heads: Snippet;
		columns: number;
		/** Said of an item behind its name, in a word. */
		mark?: (item: T) => string;
		/** What else can be done about each. */
		more?: readonly Act<T>[];
		/** An item's cells under them. */
		cells: Snippet<[T]>;
		onadd: (item: T) => void;
	}
	let {
		one,
		items,
		found,
		changes,
		editable = true,
		heads,
		columns,
		cells,
		mark = () => '',
		more = [],
		onadd
	}: Props = $props();
	const growing = new Growing(untrack(() => items.length));
	let body: HTMLTableSectionElement | undefined = $state();
	const focus = new RowFocus({
		get keys() {
			return items.map((i) => i.code);
		},
		growing,
		get body() {
			return body;
		}
	});

	async function keys(event: KeyboardEvent, item: T) {
		if (event.altKey || event.ctrlKey || event.metaKey || event.shiftKey) {
			if (!found && editable) void changes.onkeydown(event, item);
			return;
		}
		if (event.key === 'Delete') acts.find((a) => a.keys === event.key && a.fits(item))?.act(item);
		await focus.onkeydown(event, item.code);
	}
	/** The one that is dragged, and where it would be dropped. */
	let dragged = $state<string | null>(null);
	let over = $state.raw<{ code: string; edge: Edge } | null>(null);
	const takes = (item: T) => !item.leaf || !item.holds;

	function dragstart(event: DragEvent, item: T) {
		event.dataTransfer!.effectAllowed = 'move';
		event.dataTransfer!.setData('text/plain', item.name);
		dragged = item.code;
	}
	function dragover(event: DragEvent, item: T) {
		if (dragged === null) return;
		const { top, height } = (event.currentTarget as HTMLElement).getBoundingClientRect();
		const edge = edgeAt((event.clientY - top) / height, takes(item));
		if (over?.code !== item.code || over.edge !== edge) over = { code: item.code, edge };
		if (droppedAt(dragged, item.code, edge, changes.items)) event.preventDefault();
	}
	function drop(event: DragEvent) {
		event.preventDefault();
		if (dragged !== null && over) void changes.drop(dragged, over.code, over.edge);
		dragged = over = null;
	}
	const acts: readonly Act<T>[] = $derived([
		{ words: 'change', fits: () => true, act: (item: T) => changes.edit(item) },
		{ words: 'add under', fits: (item: T) => !item.holds, act: onadd },
		{
			words: 'remove',
			fits: (item: T) => item.leaf && !item.holds,
			act: (item: T) => void changes.take(item),
			keys: 'Delete'
		},
		...more
	]);
</script>

<Listing>
	<thead>
		<tr><th>{one}</th><th>Code</th>{@render heads()}<th></th></tr>
	</thead>
	<tbody bind:this={body}>
		{#each items.slice(0, growing.most) as item (item.code)}
			<tr
				data-item={item.code}
				draggable={editable && !found}
				class={[
					!item.leaf && 'sum',
					over?.code === item.code && over.edge,
					dragged === item.code && 'dragged'
				]}
				ondragstart={(event) => dragstart(event, item)}
				ondragover={(event) => dragover(event, item)}
				ondragend={() => (dragged = over = null)}
				ondrop={drop}
				onfocusin={() => focus.come(item.code)}
				onkeydown={(event) => void keys(event, item)}
			>
				<td style:padding-left="{10 + item.depth * 16}px"
					>{item.name}{#if mark(item)}<small class="muted">{mark(item)}</small>{/if}</td
				>
				<td class="code">{item.code}</td>
				{@render cells(item)}
				<td class="doing">
					{#each acts.filter((a) => editable && a.fits(item)) as { words, act } (words)}
						<TextButton tabindex={focus.tabindex(item.code)} onclick={() => act(item)}
							>{words}<span class="sr-only"> {item.name}</span></TextButton
						>
					{/each}
				</td>
			</tr>
		{:else}
			<tr><td colspan={columns + 3} class="muted">No {one.toLowerCase()} fits.</td></tr>
		{/each}
		{#if items.length > growing.most}<tr {@attach growing.end}
				><td colspan={columns + 3} class="muted">{items.length - growing.most} more …</td></tr
			>{/if}
	</tbody>
</Listing>

<style>
	tr:focus-within > :global(td) {
		background: var(--green-tint);
	}
	.dragged > :global(td) {
		opacity: 0.5;
	}
	.before > :global(td) {
		box-shadow: inset 0 2px 0 var(--green);
	}
	.after > :global(td) {
		box-shadow: inset 0 -2px 0 var(--green);
	}
	.under > :global(td) {
		background: var(--green-tint);
	}
	tr > :global(td) {
		padding-block: 3px;
	}
	small {
		margin-left: 8px;
		font-weight: 400;
	}
	.sum > :global(td:not(.doing)) {
		font-weight: 600;
	}
	.code,
	.sum > td.code {
		font-family: var(--font-mono);
		font-size: 12px;
		line-height: 22px;
		font-weight: 400;
	}
</style>
