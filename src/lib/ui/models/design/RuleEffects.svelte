<script lang="ts">
	import { counted } from '../../writing/count';
	import type { RuleView } from '../../../core/inputs/combinations';
	import { useCompany, withSelection } from '../../shell/company';

	/** What a rule blocks, and the data that lies under it. */
	let { view }: { view: RuleView } = $props();
	const company = useCompany();
	const rows = (n: number) => counted(n, 'row');
	const held = $derived(
		view.effects.flatMap((e) => e.data.map((d) => ({ ...d, model: e.model, modelName: e.name })))
	);
	const blocked = $derived(view.effects.filter((e) => e.blocked > 0));
	const SHOWN = 60;
	const href = (model: string, scenario: string) =>
		withSelection(`/drivers/${model}`, { ...company.data.selection, scenario }, company.calendar);
</script>

<p class="muted">
	{#if blocked.length}
		{blocked.map((e) => `${rows(e.blocked)} of ${e.rows} in ${e.name}`).join(', ')}
		{view.rule.on ? 'blocked' : 'would be blocked'}.
	{:else}
		No row of a driver model is blocked; none can be added there.
	{/if}
	{#if view.entries}
		{counted(view.entries, 'ledger entry', 'ledger entries')} loaded earlier under it: kept.
	{/if}
</p>
{#if held.length}
	<details>
		<summary
			>Typed figures stand in {rows(held.length)} under it; they stay and count until somebody takes them out</summary
		>
		<ul>
			{#each held.slice(0, SHOWN) as d (d.scenario + d.model + d.row)}
				<li>
					<a class="plain" href={href(d.model, d.scenario)}>{d.modelName}</a>, {d.scenarioName}: {d.rowName},
					{counted(d.cells, 'cell')}
				</li>
			{/each}
			{#if held.length > SHOWN}<li class="muted">and {rows(held.length - SHOWN)} more</li>{/if}
		</ul>
	</details>
{/if}

<style>
	summary {
		cursor: pointer;
		color: var(--clay);
		font-weight: 600;
	}
	ul {
		max-height: 200px;
		overflow: auto;
		padding: 4px 0 0 16px;
	}
</style>
