<script lang="ts">
	import { useCompany, withSelection } from '$lib/ui/company';

	let { data } = $props();
	const company = useCompany();
	const href = (code: string) => withSelection(`/drivers/${code}`, company.data.selection, company.calendar);
</script>

<svelte:head><title>Drivers · Yardstave</title></svelte:head>

<h1>Drivers</h1>
<p class="muted">
	Assumptions and driver models of the chosen scenario. What they compute is posted to accounts of
	departments.
</p>
{#if data.list.length}
	<div class="models">
		{#each data.list as m (m.code)}
			<a class="panel" href={href(m.code)}>
				<h2>{m.name}</h2>
				<p>{m.description}</p>
				<p class="muted">
					{m.dimensions.length ? `by ${m.dimensions.join(' × ')} · ${m.rows} rows` : 'one table'} · {m.lines} lines,
					{m.inputs} of them typed
					{#if m.postings.length}<br />posts {m.postings.join(', ')}{/if}
				</p>
			</a>
		{/each}
	</div>
{:else}
	<p class="muted">
		This scenario has no driver models. Choose a plan in the selection bar, or load a company folder that has
		some.
	</p>
{/if}

<style>
	.models {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 12px;
		margin-top: 12px;
	}
	.panel {
		display: grid;
		gap: 4px;
		align-content: start;
	}
	.panel:hover {
		border-color: var(--green);
	}
</style>
