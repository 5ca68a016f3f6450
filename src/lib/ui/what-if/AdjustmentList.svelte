<script lang="ts">
	import Button from '../kit/form/Button.svelte';
	import {
		ArrowDownOutline,
		ArrowUpOutline,
		CheckOutline,
		EditOutline,
		TrashBinOutline
	} from 'flowbite-svelte-icons';
	import type { AdjustmentDefinition } from '../../core/inputs/schema';
	import { useCompany } from '../shell/company';
	import { lineOf } from './draft';
	import { operationWords, scopeWords } from './words';
	import IconButton from '../kit/form/IconButton.svelte';
	import Switch from '../kit/form/Switch.svelte';
	import Slider from '../kit/form/Slider.svelte';

	/** A scenario's adjustments in their order, each with its switch, its slider and what it does to one figure. */
	interface Props {
		list: readonly AdjustmentDefinition[];
		adjustables: Parameters<typeof scopeWords>[1];
		/** How many are in the figures and not for this user. */
		kept: number;
		editable: boolean;
		busy: boolean;
		/** What one does to the watched figure; null while it is not known. */
		effectOf: (code: string) => number | null;
		upIsGood: boolean;
		neutral: boolean;
		show: (value: number) => string;
		ontoggle: (a: AdjustmentDefinition) => void;
		/** In percent; `done` when the slider is let go. */
		onslide: (a: AdjustmentDefinition, percent: number, done: boolean) => void;
		onmove: (a: AdjustmentDefinition, by: number) => void;
		onchange: (a: AdjustmentDefinition) => void;
		onremove: (a: AdjustmentDefinition) => void;
		onadopt: (a: AdjustmentDefinition) => void;
	}
	let {
		list,
		adjustables,
		kept,
		editable,
		busy,
		effectOf,
		upIsGood,
		neutral,
		show,
		ontoggle,
		onslide,
		onmove,
		onchange,
		onremove,
		onadopt
	}: Props = $props();
	const company = useCompany();
	const { calendar } = company;

	/** A single step with a number can be slid. */
	const slides = (a: AdjustmentDefinition) => a.steps.length === 1 && a.steps[0].operation === 'multiply';
	const slid = (a: AdjustmentDefinition) => {
		const [step] = a.steps;
		return step.operation === 'multiply' ? Number(((step.value - 1) * 100).toPrecision(10)) : 0;
	};
</script>

<h2>Adjustments <small class="muted">applied in this order, before formulas</small></h2>
{#each list as a, i (a.code)}
	{@const effect = effectOf(a.code)}
	<article class:off={!a.on} data-adjustment={a.code}>
		<div class="row">
			{#if a.adopted}
				<span class="tick"><CheckOutline class="h-4 w-4" /></span>
			{:else}
				<Switch label={a.name} on={a.on} onswitch={() => ontoggle(a)} />
			{/if}
			<b class="name">{a.name}</b>
			{#if !a.adopted && effect !== null}
				<span
					class="effect"
					class:good={!neutral && effect !== 0 && effect > 0 === upIsGood}
					class:bad={!neutral && effect !== 0 && effect > 0 !== upIsGood}
					>{effect > 0 ? '+' : ''}{show(effect)}</span
				>
			{/if}
		</div>
		{#each a.steps as step, s (s)}
			<p class="words">
				<b
					>{operationWords(
						step,
						company.calendarOf(step.lines[0].block),
						lineOf(adjustables, step.lines[0])
					)}</b
				>
				{scopeWords(step, adjustables, calendar)}
			</p>
		{/each}
		{#if a.adopted}
			<p class="muted small">Written into the inputs.</p>
		{:else}
			<div class="row tools">
				{#if slides(a)}
					<Slider
						label="Percent of {a.name}"
						value={slid(a)}
						min={-50}
						max={50}
						step={0.5}
						onslide={(value, rests) => onslide(a, value, rests)}
					/>
				{:else}<span class="grow"></span>{/if}
				{#if editable}
					<IconButton
						disabled={i === 0}
						label="Earlier: {a.name}"
						title="Earlier"
						onclick={() => onmove(a, -1)}><ArrowUpOutline class="h-4 w-4" /></IconButton
					>
					<IconButton
						disabled={i === list.length - 1}
						label="Later: {a.name}"
						title="Later"
						onclick={() => onmove(a, 1)}><ArrowDownOutline class="h-4 w-4" /></IconButton
					>
					<IconButton label="Change {a.name}" title="Change" onclick={() => onchange(a)}
						><EditOutline class="h-4 w-4" /></IconButton
					>
					<IconButton label="Take out {a.name}" title="Take out" onclick={() => onremove(a)}
						><TrashBinOutline class="h-4 w-4" /></IconButton
					>
					<Button quiet class="px-2 py-1" disabled={busy} onclick={() => onadopt(a)}>Adopt</Button>
				{/if}
			</div>
		{/if}
	</article>
{:else}
	<p class="muted empty">
		Nothing is adjusted. Add one, for instance list prices + 5 % from March: it lies on top of the inputs, can
		be switched off, and can be written in later.
	</p>
{/each}

{#if kept}
	<p class="muted small">
		{kept === 1 ? 'One more adjustment changes' : `${kept} more adjustments change`} schedules of which you do not
		see everything. What comes of it is in the figures; an analyst who sees all of them can switch it.
	</p>
{/if}

<style>
	h2 {
		font-weight: 600;
		margin-bottom: 4px;
	}
	h2 small {
		font-weight: 400;
		font-size: 12px;
	}
	article {
		padding: 10px 0 8px;
		border-top: 1px solid var(--rule);
	}
	.off .name,
	.off .words {
		color: var(--ink-2);
	}
	.row {
		display: flex;
		align-items: center;
		gap: 8px;
	}
	.name {
		flex: 1;
		font-weight: 600;
	}
	.words {
		margin: 2px 0 2px 44px;
		font-size: 13px;
		color: var(--ink-2);
	}
	.words b {
		color: var(--ink);
		font-weight: 600;
	}
	.tools {
		margin: 4px 0 0 44px;
	}
	.grow,
	.effect {
		font-variant-numeric: tabular-nums;
		font-weight: 600;
	}
	.good {
		color: var(--green);
	}
	.bad {
		color: var(--clay);
	}
	.tick {
		width: 34px;
		color: var(--green);
	}
	.small {
		font-size: 12px;
		margin-left: 44px;
	}
	.empty {
		padding: 8px 0;
	}
</style>
