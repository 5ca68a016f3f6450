<script lang="ts">
	import type { PlanningRow } from '../../core/views/map-row';
	import { tick, untrack } from 'svelte';
	import { Growing } from '../kit/rows/growing.svelte';
	import { rowAfter } from '../kit/rows/row-keys';
	import TextButton from '../kit/form/TextButton.svelte';
	import Listing from '../kit/Listing.svelte';
	import { amountLines } from '../writing/amounts';
	import { counted } from '../writing/count';

	/** The plan's side of the account map: its accounts as a tree, each with what is folded into it. */
	interface Props {
		rows: readonly PlanningRow[];
		currency: string;
		/** How many ledger accounts wait to be folded. */
		waiting: number;
		/** They are being dragged. */
		dragging: boolean;
		/** Folds those chosen into an account; of a heading: makes a new one under it. */
		onfold: (row: PlanningRow) => void;
		/** Shows on the other side what is in an account. */
		onshow: (row: PlanningRow) => void;
		/** The focus goes back to the other side. */
		onleave: () => void;
	}
	let { rows, currency, waiting, dragging, onfold, onshow, onleave }: Props = $props();
	const growing = new Growing(untrack(() => rows.length));
	let over = $state('');
	let at = $state('');
	let body = $state<HTMLElement>();
	const reached = $derived(rows.some((r) => r.code === at) ? at : rows[0]?.code);

	/** To the first that figures can stand in, or the first of all. */
	export function enter() {
		void focus(rows.find((r) => r.leaf)?.code ?? rows[0]?.code);
	}
	async function focus(code: string | undefined) {
		if (code === undefined) return;
		at = code;
		const place = rows.findIndex((r) => r.code === code);
		if (place >= growing.most) growing.most = place + 1;
		await tick();
		body?.querySelector<HTMLElement>(`[data-planning="${CSS.escape(code)}"]`)?.focus();
	}
	function keydown(event: KeyboardEvent, row: PlanningRow) {
		if (event.target !== event.currentTarget) return;
		const to = rowAfter(event.key, rows.indexOf(row), rows.length);
		if (to !== null) void focus(rows[to].code);
		else if (event.key === 'Enter') onfold(row);
		else if (event.key === 'Escape' || event.key === 'ArrowLeft') onleave();
		else return;
		event.preventDefault();
	}
	function dragover(event: DragEvent, row: PlanningRow) {
		if (!dragging) return;
		event.preventDefault();
		event.dataTransfer!.dropEffect = 'move';
		over = row.code;
	}
	function drop(event: DragEvent, row: PlanningRow) {
		event.preventDefault();
		over = '';
		onfold(row);
	}
	const what = $derived(counted(waiting, 'ledger account'));
</script>

<Listing role="grid" aria-label="Planning accounts">
	<thead
		><tr><th>Planning account</th><th class="num">Holds</th><th class="num">Debit less credit</th></tr></thead
	>
	<tbody bind:this={body}>
		{#each rows.slice(0, growing.most) as row (row.code)}
			<tr
				data-planning={row.code}
				tabindex={row.code === reached ? 0 : -1}
				class:heading={!row.leaf}
				class:over={over === row.code}
				title={waiting
					? row.leaf
						? `Enter folds ${what} into it`
						: `Enter makes a new account under it for ${what}`
					: undefined}
				onfocus={() => (at = row.code)}
				ondblclick={() => onfold(row)}
				onkeydown={(event) => keydown(event, row)}
				ondragover={(event) => dragover(event, row)}
				ondragleave={() => (over = '')}
				ondrop={(event) => drop(event, row)}
			>
				<td style:padding-left="{10 + row.depth * 14}px"
					>{row.name}{#if row.leaf}<span class="code">{row.code}</span>{/if}</td
				>
				<td class="num">
					{#if row.folded}<TextButton onclick={() => onshow(row)}
							>{row.folded}<span class="sr-only"> in {row.name}: show</span></TextButton
						>{/if}
				</td>
				<td class="num"
					>{#each row.folded ? amountLines(row.amounts, currency) : [] as line (line)}<div>
							{line}
						</div>{/each}</td
				>
			</tr>
		{:else}
			<tr><td colspan="3" class="muted">No planning account fits.</td></tr>
		{/each}
		{#if rows.length > growing.most}<tr {@attach growing.end}
				><td colspan="3" class="muted">{rows.length - growing.most} more …</td></tr
			>{/if}
	</tbody>
</Listing>

<style>
	td.num {
		white-space: nowrap;
	}
	td {
		vertical-align: middle;
		padding-block: 3px;
	}
	.heading > td {
		font-weight: 600;
	}
	.code {
		margin-left: 8px;
		color: var(--ink-2);
		font-family: var(--font-mono);
		font-size: 12px;
	}
	.over > td {
		background: var(--green-tint);
		box-shadow: inset 0 -2px 0 var(--green);
	}
</style>
