<script lang="ts">
	import type { Beside } from './beside.svelte';
	import type { FrameData } from './company';
	import ScenarioOptions from './ScenarioOptions.svelte';

	/** Chooses another scenario to stand beside the grid's own, as figures or as the difference. */
	interface Props {
		beside: Beside<unknown>;
		scenarios: FrameData['scenarios'];
	}
	let { beside, scenarios }: Props = $props();
</script>

<label>
	Beside
	<select
		class="field"
		value={beside.scenario}
		onchange={(e) => beside.choose({ beside: e.currentTarget.value })}
	>
		<option value="">nothing</option>
		<ScenarioOptions {scenarios} />
	</select>
</label>
{#if beside.scenario}
	<select
		class="field"
		aria-label="How the other scenario is shown"
		value={beside.difference ? 'difference' : ''}
		onchange={(e) => beside.choose({ as: e.currentTarget.value })}
	>
		<option value="">its figures</option>
		<option value="difference">the difference</option>
	</select>
{/if}

<style>
	label {
		display: flex;
		gap: 6px;
		align-items: center;
		color: var(--ink-2);
	}
	select {
		max-width: 170px;
	}
</style>
