<script lang="ts" generics="T extends { code: string; label: string; formula?: string }">
	import IconButton from '../kit/form/IconButton.svelte';
	import { ArrowDownOutline, ArrowUpOutline, CloseOutline } from 'flowbite-svelte-icons';
	import { moved } from './lists';

	/** Columns or lines of a form, to choose one of, move, and take out. */
	interface Props {
		items: readonly T[];
		/** Code of the one that is chosen. */
		chosen: string;
		/** What stands below a label. */
		says: (item: T) => string;
		/** Codes of those in which there is something to be mended. */
		faulty: ReadonlySet<string>;
		disabled: boolean;
		/** So many stay at least. */
		least?: number;
		onchoose: (code: string) => void;
		onorder: (items: T[]) => void;
		onremove: (code: string) => void;
	}
	let { items, chosen, says, faulty, disabled, least = 1, onchoose, onorder, onremove }: Props = $props();
</script>

<ol>
	{#each items as item, i (item.code)}
		<li class:chosen={item.code === chosen}>
			<button type="button" aria-current={item.code === chosen} onclick={() => onchoose(item.code)}>
				<b>{item.label}</b>
				<span class="muted">{says(item)}</span>
				{#if faulty.has(item.code)}<span class="fault">to be mended</span>{/if}
			</button>
			{#if !disabled && item.code === chosen}
				<span class="moves">
					<IconButton
						disabled={i === 0}
						label="Move {item.label} up"
						onclick={() => onorder(moved(items, i, i - 1))}><ArrowUpOutline class="h-3 w-3" /></IconButton
					>
					<IconButton
						disabled={i === items.length - 1}
						label="Move {item.label} down"
						onclick={() => onorder(moved(items, i, i + 1))}><ArrowDownOutline class="h-3 w-3" /></IconButton
					>
					<IconButton
						disabled={items.length <= least}
						label="Remove {item.label}"
						onclick={() => onremove(item.code)}><CloseOutline class="h-3 w-3" /></IconButton
					>
				</span>
			{/if}
		</li>
	{/each}
</ol>

<style>
	ol {
		border: 1px solid var(--rule);
		border-radius: 6px;
		background: var(--sheet);
	}
	li {
		display: flex;
		align-items: center;
	}
	li + li {
		border-top: 1px solid var(--rule);
	}
	li > button {
		display: grid;
		flex: 1;
		min-width: 0;
		text-align: left;
		padding: 5px 10px;
	}
	li > button span {
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
		font-size: 12px;
	}
	.fault {
		color: var(--clay);
		font-weight: 600;
	}
	.chosen {
		background: var(--green-tint);
		box-shadow: inset 3px 0 var(--green);
	}
	.moves {
		display: flex;
		gap: 2px;
		padding-right: 6px;
	}
</style>
