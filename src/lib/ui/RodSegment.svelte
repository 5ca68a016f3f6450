<script lang="ts">
	import type { Calendar } from '../core/calendar/calendar';

	/**
	 * One month of the rod: a solid block when it is closed, hollow while it is open. Ticks are longer at quarters and
	 * longest at years; the first open month carries the mark where the plan starts.
	 */
	let {
		calendar,
		period,
		open,
		first
	}: { calendar: Calendar; period: number; open: number; first: boolean } = $props();
	const closed = $derived(period < open);
	const yearStart = $derived(calendar.yearStart(calendar.fiscalYear(period)) === period);
	const quarterStart = $derived(yearStart || calendar.quarter(period) !== calendar.quarter(period - 1));
	const stripe = $derived((((period - calendar.fiscalStart + 1) % 2) + 2) % 2 === 0);
</script>

<div
	class="segment"
	class:closed
	class:stripe
	class:quarter={quarterStart}
	class:year={yearStart}
	class:boundary={period === open && !first}
>
	<span class="block"></span>
	{#if quarterStart}
		<span class="under"
			>{yearStart
				? `${calendar.yearLabel(calendar.fiscalYear(period))} Q1`
				: `Q${calendar.quarter(period)}`}</span
		>
	{/if}
</div>

<style>
	.segment {
		position: relative;
		height: 20px;
		border-left: 1px solid transparent;
	}
	.block {
		position: absolute;
		inset: 2px 0 auto -1px;
		height: 6px;
		border-block: 1px solid var(--rule-strong);
		background: transparent;
	}
	.closed .block {
		background: var(--rod-light);
		border-color: var(--rod-dark);
	}
	.closed.stripe .block {
		background: var(--rod-dark);
	}
	.segment::before {
		content: '';
		position: absolute;
		left: -1px;
		top: 0;
		width: 1px;
		height: 10px;
		background: var(--rule-strong);
	}
	.quarter::before {
		height: 14px;
		background: var(--ink-2);
	}
	.year::before {
		height: 20px;
		background: var(--ink);
	}
	.boundary::before {
		top: -18px;
		height: 32px;
		width: 2px;
		background: var(--green);
	}
	.boundary::after {
		content: '';
		position: absolute;
		left: -5px;
		top: 10px;
		border: 5px solid transparent;
		border-top: 0;
		border-bottom: 7px solid var(--green);
	}
	.under {
		position: absolute;
		left: 5px;
		top: 9px;
		font-size: 10px;
		line-height: 11px;
		color: var(--ink-2);
		white-space: nowrap;
	}
	.boundary .under {
		left: 8px;
	}
</style>
