<script lang="ts">
	import type { Calendar } from '../../core/calendar/calendar';
	import type { ScheduleFigures } from '../../core/views/schedule-view';
	import TextButton from '../kit/form/TextButton.svelte';
	import { counted } from '../writing/count';
	import { share } from '../writing/format';
	import { spoken } from '../writing/spoken';
	import type { Lacking } from './edits';

	/** What is to be known of a list before its figures: what new rows still need, errors, shares that are not all of it. */
	interface Props {
		lacking: readonly Lacking[];
		/** Whether something that is needed is out of sight. */
		hidden: boolean;
		onshow: () => void;
		errors: number;
		unshared: ScheduleFigures['unshared'];
		calendar: Calendar;
	}
	let { lacking, hidden, onshow, errors, unshared, calendar }: Props = $props();

	/** So many rows are named. */
	const MOST_NAMED = 3;
	const undivided = $derived(
		unshared.slice(0, MOST_NAMED).map((u) => `${u.name} (${share(u.sum)} in ${calendar.label(u.first)})`)
	);
</script>

{#if lacking.length}
	<p>
		{#each lacking.slice(0, MOST_NAMED) as { id, columns } (id)}
			<b>{id}</b> still needs {spoken(columns.map((c) => c.label))}.
		{/each}
		{#if lacking.length > MOST_NAMED}So do {lacking.length - MOST_NAMED} more.{/if}
		{#if hidden}<TextButton onclick={onshow}>Show all that is needed</TextButton>{/if}
	</p>
{/if}
{#if errors}<p class="errors">{counted(errors, 'cell holds', 'cells hold')} an error.</p>{/if}
{#if unshared.length}
	<p class="errors">
		Not divided into 100 %: {undivided.join(', ')}{unshared.length > MOST_NAMED
			? ` and ${unshared.length - MOST_NAMED} more`
			: ''}.
	</p>
{/if}

<style>
	.errors {
		color: var(--clay);
		font-weight: 600;
	}
</style>
