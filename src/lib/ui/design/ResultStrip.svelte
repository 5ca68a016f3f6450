<script lang="ts">
	import type { Calendar } from '../../core/calendar/calendar';
	import type { Span } from '../../core/calendar/spans';
	import type { Cell } from '../../core/engine/values';
	import type { NumberFormat } from '../../core/company/schema';
	import { useCompany } from '../shell/company';
	import { exact, figure } from '../writing/format';
	import Listing from '../kit/Listing.svelte';

	/** What a line gives in the form that is being written: months, and their total. */
	interface Props {
		head: string;
		name: string;
		cells: readonly Cell[];
		/** Months, and last all of them together. */
		spans: readonly Span[];
		format: NumberFormat;
		calendar: Calendar;
	}
	let { head, name, cells, spans, format, calendar }: Props = $props();
	const company = useCompany();
</script>

<div class="strip">
	<Listing bare>
		<thead>
			<tr>
				<th>{head}</th>
				{#each spans.slice(0, -1) as s (s.from)}<th>{calendar.label(s.from)}</th>{/each}
				<th>Total</th>
			</tr>
		</thead>
		<tbody>
			<tr>
				<th scope="row">{name}</th>
				{#each cells as cell, i (i)}<td class:error={typeof cell === 'string'} title={exact(cell, format)}
						>{figure(cell, format, company.data.figures)}</td
					>{/each}
			</tr>
		</tbody>
	</Listing>
</div>

<style>
	.strip {
		overflow-x: auto;
	}
	th,
	td {
		padding: 1px 10px 1px 0;
		text-align: right;
		white-space: nowrap;
		font-weight: 400;
	}
	th:first-child {
		text-align: left;
	}
	th {
		color: var(--ink-2);
	}
	.error {
		color: var(--clay);
	}
</style>
