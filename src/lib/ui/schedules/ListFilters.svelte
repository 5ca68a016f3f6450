<script lang="ts">
	import type { ScheduleDefinition } from '../../core/blocks/schedule/schema';
	import type { Beside } from '../entry/beside.svelte';
	import Choice from '../kit/form/Choice.svelte';
	import Field from '../kit/form/Field.svelte';
	import TextButton from '../kit/form/TextButton.svelte';
	import Tick from '../kit/form/Tick.svelte';
	import type { FrameData } from '../shell/company';
	import ScenarioOptions from '../shell/ScenarioOptions.svelte';
	import { arrange, keepTo } from './arrange';
	import { rowColumns } from './columns';

	/** What of a schedule is shown, how it is arranged, and against which scenario. */
	interface Props {
		definition: ScheduleDefinition;
		/** What one of its periods is called. */
		period: string;
		/** The line that is shown; empty where it has none. */
		line: string;
		wanted: {
			group?: string | null;
			sort?: string | null;
			words: string;
			filled: boolean;
			where: Readonly<Record<string, string>>;
		};
		beside: Beside<unknown>;
		/** Those that can be compared with. */
		scenarios: FrameData['scenarios'];
		/** How many columns are shown. */
		shown: number;
		onchoose: () => void;
	}
	let { definition, period, line, wanted, beside, scenarios, shown, onchoose }: Props = $props();

	const columns = $derived(rowColumns(definition));
	const labelOf = (code: string) => columns.find((c) => c.code === code)?.label ?? code;
	let pause: ReturnType<typeof setTimeout> | undefined;
	const PAUSE_MS = 300;
	function seek(text: string) {
		clearTimeout(pause);
		pause = setTimeout(() => arrange({ words: text.trim() }), PAUSE_MS);
	}
</script>

<div class="filters">
	{#if definition.lines.length}
		<label>
			By {period}
			<Choice value={line} onpick={(v) => arrange({ line: v })}>
				{#each definition.lines as l (l.code)}<option value={l.code}>{l.label}</option>{/each}
			</Choice>
		</label>
	{/if}
	<label>
		Grouped by
		<Choice value={wanted.group ?? ''} onpick={(v) => arrange({ group: v, open: '' })}>
			<option value="">nothing</option>
			{#each columns as c (c.code)}<option value={c.code}>{c.label}</option>{/each}
		</Choice>
	</label>
	<label>
		Sorted by
		<Choice value={wanted.sort ?? ''} onpick={(v) => arrange({ sort: v })}>
			<option value="">as they stand</option>
			{#each columns.filter((c) => c.column) as c (c.code)}
				<option value={c.code}>{c.label}</option>
				<option value="-{c.code}">{c.label}, backwards</option>
			{/each}
		</Choice>
	</label>
	<Field
		type="search"
		style="width: 92px"
		aria-label="Find in all columns"
		placeholder="Find"
		value={wanted.words}
		oninput={(e) => seek(e.currentTarget.value)}
	/>
	{#if line}
		<Tick bind:checked={() => wanted.filled, (v) => arrange({ filled: v ? '1' : '' })}>with figures</Tick>
	{/if}
	<label>
		Against
		<Choice
			style="max-width: 124px"
			aria-label="Compared with"
			value={beside.scenario}
			onpick={(v) => beside.choose({ beside: v })}
		>
			<option value="">nothing</option>
			<ScenarioOptions {scenarios} />
		</Choice>
	</label>
	{#each Object.entries(wanted.where) as [column, value] (column)}
		<TextButton onclick={() => keepTo(wanted.where, column, null)} title="Show all again"
			>{labelOf(column)}: {value || 'blank'} ×</TextButton
		>
	{/each}
	<TextButton class="end" onclick={onchoose}>Columns, {shown} of {columns.length} …</TextButton>
</div>

<style>
	.filters {
		display: flex;
		flex-wrap: wrap;
		white-space: nowrap;
		gap: 6px 11px;
		align-items: center;
		margin-bottom: 10px;
	}
	.filters label {
		display: flex;
		gap: 6px;
		align-items: center;
		color: var(--ink-2);
	}
	.filters :global(select) {
		max-width: 124px;
	}
	.filters :global(.end) {
		margin-left: auto;
	}
</style>
