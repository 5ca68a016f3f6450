<script lang="ts">
	import type { Calendar } from '../../../core/calendar/calendar';
	import { isAlone, type Span } from '../../../core/calendar/spans';

	/**
	 * The rod over one column: a solid block for a closed month, a hollow one while it is open; a folded quarter has all
	 * of its months. Ticks are longer at quarters and longest at years; the first open month carries the mark where the
	 * plan starts. A quarter's name folds and unfolds it.
	 */
	interface Props {
		calendar: Calendar;
		span: Span;
		open: number;
		first: boolean;
		onfold?: (span: Span) => void;
	}
	let { calendar, span, open, first, onfold }: Props = $props();
	const period = $derived(span.from);
	const folded = $derived(span.to > span.from);
	const months = $derived(Array.from({ length: span.to - span.from + 1 }, (_, i) => span.from + i));
	const yearStart = $derived(calendar.yearStart(calendar.fiscalYear(period)) === period);
	const quarterStart = $derived(
		yearStart || first || calendar.quarter(period) !== calendar.quarter(period - 1)
	);
	const stripe = (p: number) => (p - calendar.yearStart(calendar.fiscalYear(p))) % 2 === 0;
	const year = $derived(calendar.yearLabel(calendar.fiscalYear(period)));
	/** A quarter, half or year that is one period by itself has nothing to fold, and its name above it. */
	const alone = $derived(isAlone(calendar, period));
	const name = $derived(
		!alone
			? yearStart
				? `${year} Q1`
				: `Q${calendar.quarter(period)}`
			: yearStart && calendar.shortLabel(period) !== year
				? year
				: ''
	);
</script>

<div
	class="segment"
	class:quarter={quarterStart}
	class:year={yearStart}
	class:boundary={period === open && !first}
>
	<span class="blocks">
		{#each months as month (month)}<span
				class="block"
				class:closed={month < open}
				class:stripe={stripe(month)}
			></span>{/each}
	</span>
	{#if quarterStart}
		{#if onfold && !alone}
			<button
				class="under"
				tabindex="-1"
				aria-expanded={!folded}
				aria-label={folded ? `Unfold ${name}` : `Fold ${name}`}
				title={folded ? `Unfold ${name}` : `Fold ${name}`}
				onclick={() => onfold(span)}>{folded ? '' : name}<span class="turn" class:folded></span></button
			>
		{:else}<span class="under">{name}</span>{/if}
	{/if}
</div>

<style>
	.segment {
		position: relative;
		height: 20px;
		border-left: 1px solid transparent;
	}
	.blocks {
		position: absolute;
		inset: 2px 0 auto -1px;
		height: 6px;
		display: flex;
	}
	.block {
		flex: 1;
		border-block: 1px solid var(--rule-strong);
		background: transparent;
	}
	.block + .block {
		border-left: 1px solid var(--rule-strong);
	}
	.block.closed {
		background: var(--rod-light);
		border-color: var(--rod-dark);
	}
	.block.closed.stripe {
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
	button.under {
		padding: 0 2px;
		margin-left: -2px;
		border-radius: 3px;
	}
	button.under:hover {
		background: var(--green-tint);
		color: var(--green);
	}
	.turn::after {
		content: '−';
		padding-left: 3px;
	}
	.turn.folded::after {
		content: '+';
		padding: 0 4px;
	}
	.boundary .under {
		left: 8px;
	}
</style>
