<script lang="ts">
	import type { Beside } from './beside.svelte';
	import { useCompany, type FrameData } from '../shell/company';
	import ScenarioOptions from '../shell/ScenarioOptions.svelte';
	import Choice from '../kit/form/Choice.svelte';

	/** Chooses another scenario to stand beside the grid's own, as figures or as the difference. */
	interface Props {
		beside: Beside<unknown>;
		scenarios: FrameData['scenarios'];
	}
	let { beside, scenarios }: Props = $props();
	const company = useCompany();
	const other = $derived(scenarios.find((s) => s.code === beside.scenario));
	/** Nothing stands beside months that the other scenario does not have. */
	const ends = $derived(other && other.last < company.data.selection.to ? other.last : null);
</script>

<label>
	Beside
	<Choice style="max-width: 170px" value={beside.scenario} onpick={(v) => beside.choose({ beside: v })}>
		<option value="">nothing</option>
		<ScenarioOptions {scenarios} />
	</Choice>
</label>
{#if beside.scenario}
	<Choice
		style="max-width: 170px"
		aria-label="How the other scenario is shown"
		value={beside.difference ? 'difference' : ''}
		onpick={(v) => beside.choose({ as: v })}
	>
		<option value="">its figures</option>
		<option value="difference">the difference</option>
	</Choice>
{/if}
{#if ends !== null}<span class="muted">ends in {company.calendar.label(ends)}</span>{/if}

<style>
	label {
		display: flex;
		gap: 6px;
		align-items: center;
		color: var(--ink-2);
	}
</style>
