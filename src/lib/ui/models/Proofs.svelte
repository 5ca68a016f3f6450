<script lang="ts">
	import { counted } from '../writing/count';
	import type { Calendar } from '../../core/calendar/calendar';
	import type { Line } from '../../core/blocks/driver-model/schema';
	import type { ProofResult } from '../../core/explain/proof';
	import { exact } from '../writing/format';
	import Listing from '../kit/Listing.svelte';

	interface Props {
		proofs: readonly ProofResult[];
		lines: readonly Line[];
		calendar: Calendar;
	}
	let { proofs, lines, calendar }: Props = $props();
	const holds = (p: ProofResult) => !p.problem && !p.differences.length;
	const failing = $derived(proofs.filter((p) => !holds(p)));
	const formatOf = (code: string) => lines.find((l) => l.code === code)?.format ?? 'number';
	const figures = (n: number) => counted(n, 'figure');
</script>

<details class="proofs" class:failing={failing.length > 0}>
	<summary>
		{#if failing.length}
			{failing.length} of {proofs.length} proofs {failing.length === 1 ? 'does' : 'do'} not hold
		{:else}
			{proofs.length === 1 ? 'The proof holds' : `All ${proofs.length} proofs hold`}
		{/if}
	</summary>
	<ul>
		{#each proofs as proof (proof.name)}
			<li>
				<b>{proof.name}</b>
				{#if proof.problem}
					<span class="off">{proof.problem}</span>
				{:else if proof.differences.length}
					<span class="off">{proof.differences.length} of {figures(proof.compared)} differ</span>
					<Listing bare class="mt-1">
						<thead
							><tr><th>{calendar.words.One}</th><th>Expected</th><th>Calculated</th><th>Difference</th></tr
							></thead
						>
						<tbody>
							{#each proof.differences as d (d.period)}
								<tr>
									<td>{calendar.label(d.period)}</td>
									<td>{exact(d.expected, formatOf(proof.line))}</td>
									<td>{exact(d.actual, formatOf(proof.line))}</td>
									<td
										>{typeof d.actual === 'number' && d.expected !== null
											? exact(d.actual - d.expected, formatOf(proof.line))
											: ''}</td
									>
								</tr>
							{/each}
						</tbody>
					</Listing>
				{:else}
					<span class="muted">{figures(proof.compared)} as expected</span>
				{/if}
			</li>
		{/each}
	</ul>
</details>

<style>
	.proofs {
		margin-bottom: 10px;
	}
	summary {
		cursor: pointer;
		color: var(--green);
		font-weight: 600;
		width: fit-content;
	}
	.failing summary,
	.off {
		color: var(--clay);
	}
	ul {
		list-style: none;
		padding: 6px 0 0 14px;
		display: grid;
		gap: 6px;
		max-height: 220px;
		overflow: auto;
	}
	th,
	td {
		padding: 2px 14px 2px 0;
		text-align: right;
	}
	th:first-child,
	td:first-child {
		text-align: left;
	}
	th {
		color: var(--ink-2);
		font-weight: 400;
		border-bottom: 1px solid var(--rule-strong);
	}
</style>
