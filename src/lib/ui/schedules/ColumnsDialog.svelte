<script lang="ts">
	import { untrack } from 'svelte';
	import Dialog from '../kit/Dialog.svelte';
	import IconButton from '../kit/form/IconButton.svelte';
	import Tick from '../kit/form/Tick.svelte';
	import { ArrowDownOutline, ArrowUpOutline } from 'flowbite-svelte-icons';

	/** Chooses which columns stand beside the months, and in which order. */
	interface Props {
		columns: readonly { code: string; label: string }[];
		/** Codes of those that are shown, in their order. */
		shown: readonly string[];
		onchoose: (codes: string[]) => void;
		onclose: () => void;
	}
	let { columns, shown, onchoose, onclose }: Props = $props();

	let order = $state(
		untrack(() => [...shown, ...columns.map((c) => c.code).filter((code) => !shown.includes(code))])
	);
	let chosen: string[] = $state(untrack(() => [...shown]));
	const labelOf = (code: string) => columns.find((c) => c.code === code)?.label ?? code;
	function move(i: number, by: number) {
		const next = [...order];
		[next[i], next[i + by]] = [next[i + by], next[i]];
		order = next;
	}
	const wanted = $derived(order.filter((code) => chosen.includes(code)));
</script>

<Dialog
	title="Columns beside the months"
	action="Show these"
	disabled={!wanted.length}
	onaction={() => onchoose(wanted)}
	{onclose}
>
	<ul>
		{#each order as code, i (code)}
			<li>
				<Tick value={code} bind:group={chosen}>{labelOf(code)}</Tick>
				<span class="moves">
					<IconButton label="Move {labelOf(code)} up" disabled={i === 0} onclick={() => move(i, -1)}
						><ArrowUpOutline class="h-4 w-4" /></IconButton
					>
					<IconButton
						label="Move {labelOf(code)} down"
						disabled={i === order.length - 1}
						onclick={() => move(i, 1)}><ArrowDownOutline class="h-4 w-4" /></IconButton
					>
				</span>
			</li>
		{/each}
	</ul>
</Dialog>

<style>
	ul {
		display: grid;
		gap: 2px;
		max-height: 420px;
		overflow-y: auto;
	}
	li {
		display: flex;
		align-items: center;
		justify-content: space-between;
	}
	.moves {
		display: flex;
	}
</style>
