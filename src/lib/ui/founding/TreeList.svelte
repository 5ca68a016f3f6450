<script lang="ts" generics="Item extends TreeItem">
	import type { TreeItem } from '../../core/company/tree';
	import { buildTree } from '../../core/company/tree';

	/** A tree as it will stand, each level further to the right. */
	interface Props {
		label: string;
		items: readonly Item[];
		/** What is said at the right of each. */
		note?: (item: Item, leaf: boolean) => string;
	}
	let { label, items, note }: Props = $props();
	const tree = $derived(buildTree(items));
</script>

<!-- It scrolls, so that it must be reached by keyboard. -->
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<ul aria-label={label} tabindex="0">
	{#each tree.all as item (item.code)}
		{@const leaf = tree.isLeaf(item.code)}
		<li class:sum={!leaf} style:padding-left="{tree.depth(item.code) * 14}px">
			<span>{item.name}</span>
			{#if note}<small>{note(item, leaf)}</small>{/if}
		</li>
	{/each}
</ul>

<style>
	ul {
		max-height: 250px;
		overflow: auto;
		border: 1px solid var(--rule);
		background: var(--tint);
		padding: 6px 10px;
		font-size: 13px;
	}
	li {
		display: flex;
		justify-content: space-between;
		gap: 12px;
		line-height: 1.55;
	}
	.sum {
		font-weight: 600;
	}
	small {
		color: var(--ink-2);
		font-weight: 400;
		white-space: nowrap;
	}
</style>
