<script lang="ts">
	import type { ScheduleDefinition } from '../../core/blocks/schedule/schema';
	import type { Calendar } from '../../core/calendar/calendar';
	import TextButton from '../kit/form/TextButton.svelte';
	import { counted } from '../writing/count';
	import { figure, type Figures } from '../writing/format';
	import { differenceWords, type Compared } from './compared';
	import type { Choice } from '../grid/word-entries';

	/** Which rows are new, gone or different against another scenario, and in what. */
	interface Props {
		compared: Compared;
		definition: ScheduleDefinition;
		choices: Readonly<Record<string, readonly Choice[]>>;
		calendar: Calendar;
		figures: Figures;
		/** Leads to a row of the grid. */
		ongo: (id: string) => void;
	}
	let { compared, definition, choices, calendar, figures, ongo }: Props = $props();
	const { counts, totals, rows } = $derived(compared);
	const line = $derived(definition.lines.find((l) => l.code === compared.line));
	const none = $derived(!counts.new && !counts.gone && !counts.different);
	const told = $derived(
		none
			? 'every row is the same'
			: [
					counts.new && `${counts.new} new`,
					counts.gone && `${counts.gone} gone`,
					counts.different && `${counts.different} different`
				]
					.filter(Boolean)
					.join(', ')
	);
	const amount = (value: number) => figure(value, line?.format ?? 'number', figures);
	const difference = $derived(
		typeof totals.here === 'number' && typeof totals.there === 'number' ? totals.here - totals.there : null
	);
	const hidden = $derived(counts.new + counts.gone + counts.different - rows.length);
</script>

<section aria-label="Against {compared.name}">
	<p>
		Against <b>{compared.name}</b>: {told}.
		{#if difference !== null}
			{line?.label}
			{amount(totals.here as number)}, there {amount(totals.there as number)}:
			<b>{difference > 0 ? '+' : ''}{amount(difference)}</b>.
		{/if}
	</p>
	{#if !none}
		<ul>
			{#each rows as row (row.id)}
				<li>
					<span class="what">{row.what}</span>
					{#if row.what === 'gone'}{row.name}{:else}<TextButton onclick={() => ongo(row.id)}
							>{row.name}</TextButton
						>{/if}
					{#each row.differences as d, i (i)}
						{@const words = differenceWords(d, definition, choices, calendar)}
						<span class="difference"
							><span class="muted">{words.label}</span>
							{words.here}<span class="muted">, there {words.there}</span></span
						>
					{/each}
				</li>
			{/each}
		</ul>
		{#if hidden > 0}<p class="muted">{counted(hidden, `more ${definition.one}`, 'more')}.</p>{/if}
	{/if}
</section>

<style>
	section {
		background: var(--sheet);
		border: 1px solid var(--rule);
		border-radius: 8px;
		padding: 8px 14px;
		margin-bottom: 10px;
	}
	ul {
		max-height: 132px;
		overflow-y: auto;
		margin-top: 4px;
		font-size: 13px;
	}
	li {
		display: flex;
		flex-wrap: wrap;
		gap: 0 14px;
		padding: 2px 0;
	}
	.what {
		width: 62px;
		color: var(--ink-2);
	}
	.difference {
		font-variant-numeric: tabular-nums;
	}
</style>
