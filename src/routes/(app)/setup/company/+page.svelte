<script lang="ts">
	import { yearSaid } from '$lib/core/calendar/says';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { useCompany } from '$lib/ui/shell/company';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	/** Of departments that count in others than the company reports in. */
	const foreign = $derived([
		...new Set(data.departments.flatMap((d) => d.currency ?? []).filter((c) => c !== data.company.currency))
	]);
	const year = $derived(calendar.fiscalYear(data.selection.from));
</script>

<svelte:head><title>Company · Yardstave</title></svelte:head>

<h1>Company</h1>
<dl>
	<dt>Name</dt>
	<dd>{data.company.name}</dd>
	<dt>Currency</dt>
	<dd>
		{data.company.currency}, entered to {data.company.decimals || 'no'} decimals{foreign.length
			? `; legal entities count in ${foreign.join(' and ')} as well`
			: ''}
	</dd>
	<dt>Calendar</dt>
	<dd>{yearSaid(calendar, year)}</dd>
	<dt>Closed through</dt>
	<dd>{data.closedThrough === null ? 'nothing yet' : calendar.longLabel(data.closedThrough)}</dd>
</dl>
<h2>The whole company as files</h2>
<p class="muted">
	A zip of plain tables: accounts, departments, people, ledger, scenarios, history. An empty installation is
	set up from it, with nothing lost; passwords and sessions are not in it.
</p>
<p><Button quiet href="/api/v1/company/folder" download>Download the zip</Button></p>

<style>
	dl {
		display: grid;
		grid-template-columns: max-content 1fr;
		gap: 6px 24px;
		margin: 12px 0 20px;
	}
	dt {
		color: var(--ink-2);
	}
	h2 {
		font-size: 16px;
	}
	p {
		max-width: 620px;
		margin-top: 6px;
	}
</style>
