<script lang="ts">
	import { tick, untrack } from 'svelte';
	import type { MapRow } from '../../core/views/map-row';
	import Button from '../kit/form/Button.svelte';
	import { Growing } from '../kit/rows/growing.svelte';
	import Listing from '../kit/Listing.svelte';
	import { amountLines } from '../writing/amounts';
	import { digits } from '../writing/count';
	import type { Choosing } from './choosing.svelte';

	/** The ledger's side of the account map: its accounts, to be chosen and taken over to the other side. */
	interface Props {
		rows: readonly MapRow[];
		/** Whether there are any at all. */
		any: boolean;
		choosing: Choosing;
		currency: string;
		nameOf: (account: string) => string;
		/** Those chosen are to be folded: the focus goes to the other side. */
		onfold: () => void;
		ondrag: (dragging: boolean) => void;
		onsuggested: (row: MapRow) => void;
	}
	let { rows, any, choosing, currency, nameOf, onfold, ondrag, onsuggested }: Props = $props();
	const growing = new Growing(untrack(() => rows.length));
	let body = $state<HTMLElement>();

	async function keydown(event: KeyboardEvent, code: string) {
		if (event.target !== event.currentTarget) return;
		if (event.key === 'Enter') {
			event.preventDefault();
			if (!choosing.chosen.has(code)) choosing.only(code);
			return onfold();
		}
		const to = choosing.key(event, code);
		if (to === null || to === code) return;
		const place = rows.findIndex((r) => r.code === to);
		if (place >= growing.most) growing.most = place + 1;
		await tick();
		body?.querySelector<HTMLElement>(`[data-ledger="${CSS.escape(to)}"]`)?.focus();
	}
	function dragstart(event: DragEvent, code: string) {
		if (!choosing.chosen.has(code)) choosing.only(code);
		event.dataTransfer!.effectAllowed = 'move';
		event.dataTransfer!.setData('text/plain', [...choosing.chosen].join('\n'));
		ondrag(true);
	}
</script>

<Listing role="grid" aria-label="Ledger accounts" aria-multiselectable="true">
	<thead
		><tr
			><th>Ledger account</th><th class="num">Entries</th><th class="num">Debit less credit</th><th>Is in</th
			></tr
		></thead
	>
	<tbody bind:this={body}>
		{#each rows.slice(0, growing.most) as row (row.code)}
			<tr
				data-ledger={row.code}
				draggable="true"
				tabindex={row.code === choosing.reached ? 0 : -1}
				aria-selected={choosing.chosen.has(row.code)}
				class:chosen={choosing.chosen.has(row.code)}
				onclick={(event) => choosing.pick(row.code, event)}
				onkeydown={(event) => void keydown(event, row.code)}
				ondragstart={(event) => dragstart(event, row.code)}
				ondragend={() => ondrag(false)}
			>
				<td><span class="code">{row.code}</span> {row.name}</td>
				<td class="num">{digits(row.entries)}</td>
				<td class="num"
					>{#each amountLines(row.amounts, currency) as line (line)}<div>{line}</div>{/each}</td
				>
				<td>
					{#if row.account !== null}{nameOf(row.account)}{:else}
						<span class="none">nowhere</span>
						{#if row.suggestion}
							<Button
								quiet
								onclick={(event: MouseEvent) => {
									event.stopPropagation();
									onsuggested(row);
								}}>to {nameOf(row.suggestion.account)}</Button
							>
						{/if}
					{/if}
				</td>
			</tr>
		{:else}
			<tr
				><td colspan="4" class="muted"
					>{any
						? 'No ledger account fits.'
						: 'No ledger account is known yet. They come with the first file under Ledger feed.'}</td
				></tr
			>
		{/each}
		{#if rows.length > growing.most}<tr {@attach growing.end}
				><td colspan="4" class="muted">{rows.length - growing.most} more …</td></tr
			>{/if}
	</tbody>
</Listing>

<style>
	tr[draggable] {
		cursor: default;
		user-select: none;
	}
	td.num {
		white-space: nowrap;
	}
	td {
		vertical-align: middle;
		padding-block: 3px;
	}
	.code {
		font-family: var(--font-mono);
		font-size: 12px;
	}
	.chosen > td {
		background: var(--green-tint);
	}
	.none {
		color: var(--clay);
		font-weight: 600;
	}
</style>
