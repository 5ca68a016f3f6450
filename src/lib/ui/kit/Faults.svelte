<script lang="ts">
	import type { Fault } from './api';

	/** What went wrong, where, and what to do: a sentence and the places. */
	let {
		message,
		faults = [],
		count = faults.length
	}: { message: string; faults?: Fault[]; count?: number } = $props();
	const place = (f: Fault) =>
		[f.row && `row ${f.row}`, f.column && `column ${f.column}`].filter(Boolean).join(', ');
</script>

<div class="faults" role="alert">
	<p>{message}</p>
	{#if faults.length}
		<ul>
			{#each faults as fault, i (i)}
				<li>
					{#if place(fault)}<b>{place(fault)}:</b>{/if}
					{fault.message}
				</li>
			{/each}
		</ul>
		{#if count > faults.length}<p class="more">and {count - faults.length} more</p>{/if}
	{/if}
</div>

<style>
	.faults {
		background: var(--clay-tint);
		color: var(--ink);
		border-left: 4px solid var(--clay);
		padding: 10px 14px;
		border-radius: 4px;
	}
	p {
		font-weight: 600;
	}
	ul {
		margin-top: 6px;
		max-height: 240px;
		overflow: auto;
		list-style: disc;
		padding-left: 18px;
	}
	.more {
		font-weight: 400;
		margin-top: 4px;
	}
</style>
