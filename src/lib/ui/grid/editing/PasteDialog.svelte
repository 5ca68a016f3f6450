<script lang="ts">
	import { counted } from '../../writing/count';
	import Dialog from '../../kit/Dialog.svelte';
	import type { PastePlan } from './clipboard';

	/** Says before anything is pasted what would be left out. */
	interface Props {
		plan: PastePlan;
		/** Size of what was copied, and of what is chosen. */
		pasted: { rows: number; columns: number };
		chosen: { rows: number; columns: number };
		nameOf: (place: { r: number; c: number }) => string;
		onpaste: () => void;
		onclose: () => void;
	}
	let { plan, pasted, chosen, nameOf, onpaste, onclose }: Props = $props();
	const MOST = 8;
	const cells = (n: number) => counted(n, 'cell');
	/** Many are told by their reasons. */
	const reasons = $derived.by(() => {
		const found = new Map<string, PastePlan['left']>();
		for (const item of plan.left) {
			const same = found.get(item.reason);
			if (same) same.push(item);
			else found.set(item.reason, [item]);
		}
		return [...found].sort((a, b) => b[1].length - a[1].length);
	});
	const size = (s: { rows: number; columns: number }) => `${s.rows} × ${s.columns}`;
</script>

<Dialog
	title="Paste {cells(plan.put.length)}?"
	action="Paste {cells(plan.put.length)}"
	size="md"
	disabled={!plan.put.length}
	onaction={() => {
		onpaste();
		onclose();
	}}
	{onclose}
>
	{#if plan.shapesDiffer}
		<p>
			What was copied has {size(pasted)} cells, what is chosen {size(chosen)}. It would be laid down from the
			first chosen cell.
		</p>
	{/if}
	{#if plan.left.length}
		<p><b>{cells(plan.left.length)} would be left out.</b></p>
		<table>
			<tbody>
				{#if plan.left.length <= MOST}
					{#each plan.left as item (`${item.r}/${item.c}`)}
						<tr><td>{nameOf(item)}</td><td class="text">{item.text || 'blank'}</td><td>{item.reason}</td></tr>
					{/each}
				{:else}
					{#each reasons.slice(0, MOST) as [reason, items] (reason)}
						<tr
							><td class="text">{cells(items.length)}</td><td>{reason}</td><td class="muted"
								>{nameOf(items[0])}{items.length > 1 ? ' and others' : ''}</td
							></tr
						>
					{/each}
				{/if}
			</tbody>
		</table>
		{#if reasons.length > MOST}<p class="muted">and {reasons.length - MOST} reasons more</p>{/if}
	{/if}
	{#if plan.outside}<p>{cells(plan.outside)} would fall outside the grid.</p>{/if}
</Dialog>

<style>
	p {
		margin-bottom: 8px;
	}
	table {
		font-size: 13px;
		border-collapse: collapse;
		width: 100%;
	}
	td {
		padding: 3px 10px 3px 0;
		border-bottom: 1px solid var(--rule);
		vertical-align: top;
	}
	.text {
		font-variant-numeric: tabular-nums;
		text-align: right;
	}
</style>
