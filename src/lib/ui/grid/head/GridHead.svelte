<!-- The names of a grid's columns, with the rod over its periods. -->
<script lang="ts">
	import type { Calendar } from '../../../core/calendar/calendar';
	import { day } from '../../writing/format';
	import type { Span } from '../../../core/calendar/spans';
	import type { GridLayout } from '../layout.svelte';
	import { RodDrawing } from './rod-drawing.svelte';
	import RodSegment from './RodSegment.svelte';
	import { NAME, type GridTable } from '../table.svelte';
	import type { GridColumn } from '../types';

	interface Props {
		/** What the rows' names are. */
		name: string;
		nameWidth: number;
		height: number;
		columns: GridColumn[];
		table: GridTable;
		layout: GridLayout;
		calendar: Calendar;
		/** First open period. */
		open: number;
		onfold?: (span: Span) => void;
		/** Months were drawn over. */
		onwindow?: (span: Span) => void;
	}
	let { name, nameWidth, height, columns, table, layout, calendar, open, onfold, onwindow }: Props = $props();

	const grouped = $derived(columns.some((c) => c.group));
	const firstPeriod = $derived(columns.findIndex((c) => c.span !== undefined));
	const drawing = new RodDrawing();
	const drawn = $derived(drawing.span);
	/** Months under the pointer. */
	const spanAt = (target: EventTarget | null) => {
		const title = (target as Element).closest<HTMLElement>('[data-title]');
		return title && columns[Number(title.dataset.title)]?.span;
	};
	/** Listeners of the whole head: a column's head is nothing to press by itself. */
	function draws(node: HTMLElement) {
		const press = (e: PointerEvent) => {
			const span = e.button === 0 && !(e.target as Element).closest('button, .grip') && spanAt(e.target);
			if (!span || !onwindow) return;
			e.preventDefault();
			drawing.press(span);
		};
		const move = (e: PointerEvent) => {
			const span = spanAt(e.target);
			if (span) drawing.move(span);
		};
		const release = () => {
			const span = drawing.release();
			if (span) onwindow?.(span);
		};
		node.addEventListener('pointerdown', press);
		node.addEventListener('pointerover', move);
		window.addEventListener('pointerup', release);
		return { destroy: () => window.removeEventListener('pointerup', release) };
	}
	const goesOn = (c: number) => c > 0 && columns[c].group === columns[c - 1].group;
	/** Which days they are, where a name does not say it, and what can be done with them. */
	function titleOf({ from, to }: Span): string | undefined {
		const days =
			calendar.spec.kind === 'weeks' ? `${day(calendar.firstDay(from))} – ${day(calendar.lastDay(to))}` : '';
		const draw = onwindow ? `Draw over ${calendar.words.many} to see these alone` : '';
		return [days, draw].filter(Boolean).join('. ') || undefined;
	}
</script>

<div
	class="head"
	role="row"
	aria-rowindex={1}
	use:draws
	style:height="{height}px"
	style:width="{layout.width}px"
>
	<div class="pinned" role="presentation" style:width="{layout.frozenWidth}px">
		<div class="corner" role="columnheader" aria-colindex={1} style:width="{nameWidth}px">
			{name}
			{@render grip(NAME)}
		</div>
		{#each layout.frozen as { column, c } (column.key)}
			{@render title(column, c)}
		{/each}
	</div>
	{#each layout.columns.toSorted((a, b) => a.c - b.c) as { column, c } (column.key)}
		{@render title(column, c)}
	{/each}
</div>

{#snippet title(column: GridColumn, c: number)}
	<div
		class="title"
		class:words={column.kind !== 'figure' && column.align !== 'right'}
		class:apart={column.apart}
		class:openmonth={column.span !== undefined && column.span.to >= open}
		class:drawable={column.span !== undefined && onwindow !== undefined}
		class:drawn={drawn && column.span && column.span.from >= drawn.from && column.span.to <= drawn.to}
		title={column.span && titleOf(column.span)}
		data-title={c}
		style:left="{layout.lefts[c]}px"
		style:width="{layout.widths[c]}px"
		role="columnheader"
		aria-colindex={c + 2}
	>
		{#if grouped}<span class="group">{goesOn(c) && c !== layout.leftmost ? '' : (column.group ?? '')}</span
			>{/if}
		<span
			>{#if grouped && column.group}<i class="sr-only">{column.group}, </i>{/if}{column.label}</span
		>
		{#if column.span !== undefined}
			<RodSegment
				{calendar}
				span={column.span}
				{open}
				first={c === firstPeriod || (grouped && !goesOn(c))}
				{onfold}
			/>
		{:else}
			<span class="norod"></span>
		{/if}
		{@render grip(column.key)}
	</div>
{/snippet}

{#snippet grip(key: string)}
	<span
		class="grip"
		role="presentation"
		title="Draw to change the width; twice for the usual one"
		onmousedown={(e) => {
			e.preventDefault();
			table.resize(key, e);
		}}
		ontouchstart={(e) => table.resize(key, e)}
		ondblclick={(e) => {
			e.stopPropagation();
			table.resetWidth(key);
		}}
	></span>
{/snippet}

<style>
	.head {
		min-width: 100%;
		position: sticky;
		top: 0;
		z-index: 3;
		background: var(--ground);
		border-bottom: 1px solid var(--rule-strong);
	}
	/** The name and the frozen columns: in sight however far it is scrolled to the right. */
	.pinned {
		position: sticky;
		left: 0;
		z-index: 2;
		height: 100%;
		background: var(--ground);
	}
	.corner {
		position: absolute;
		top: 0;
		bottom: 0;
		left: 0;
		display: flex;
		align-items: end;
		padding: 0 8px 4px;
		font-weight: 600;
		color: var(--ink-2);
		border-right: 1px solid var(--rule-strong);
	}
	.title {
		position: absolute;
		top: 0;
		bottom: 0;
		display: flex;
		flex-direction: column;
		justify-content: space-between;
		font-weight: 600;
		padding-top: 4px;
		min-width: 0;
	}
	.title > span {
		text-align: right;
		padding-right: 6px;
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	.title.words > span {
		text-align: left;
		padding-left: 8px;
	}
	.title.openmonth > span {
		font-weight: 400;
		color: var(--ink-2);
	}
	.title.drawable {
		user-select: none;
		cursor: ew-resize;
	}
	.title.drawn {
		background: var(--green-tint);
	}
	.norod {
		height: 20px;
	}
	.title:not(:has(.segment)) {
		justify-content: flex-end;
		padding-bottom: 4px;
	}
	.title:not(:has(.segment)) .norod {
		display: none;
	}
	.grip {
		position: absolute;
		right: 0;
		top: 0;
		bottom: 0;
		width: 5px;
		cursor: col-resize;
	}
	.grip:hover {
		background: var(--rule-strong);
	}
	.title .group {
		height: 20px;
		text-align: left;
		font-weight: 600;
		color: var(--ink);
		overflow: visible;
		padding-left: 6px;
	}
	.pinned .title {
		border-right: 1px solid var(--rule-strong);
	}
	.apart {
		border-left: 1px solid var(--rule-strong);
	}
</style>
