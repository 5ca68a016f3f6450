<script lang="ts">
	import { yearSaid } from '$lib/core/calendar/says';
	import type { Module } from '$lib/core/company/modules';
	import { ApiError, patch } from '$lib/ui/kit/api';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Tick from '$lib/ui/kit/form/Tick.svelte';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import { useCompany } from '$lib/ui/shell/company';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	/** Of departments that count in others than the company reports in. */
	const foreign = $derived([
		...new Set(data.departments.flatMap((d) => d.currency ?? []).filter((c) => c !== data.company.currency))
	]);
	async function turn(module: Module, name: string, on: boolean) {
		try {
			await patch('company', { module, on });
			notices.say(`${name} is switched ${on ? 'on' : 'off'}.`, false, {
				label: 'Undo',
				run: () => void turn(module, name, !on)
			});
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'It was not switched.', true);
		}
		await reread();
	}
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
<h2>What is used</h2>
<p class="muted">What is switched off is out of sight, for everybody, until it is wanted.</p>
<div class="modules">
	{#each data.modules as m (m.code)}
		<div>
			<Tick
				checked={m.on}
				disabled={m.on && m.held !== ''}
				aria-describedby="module-{m.code}"
				onpick={(on) => void turn(m.code, m.name, on)}><b>{m.name}</b></Tick
			>
			<span id="module-{m.code}" class="muted">{m.says}{m.on && m.held ? `. Stays on: ${m.held}` : ''}</span>
		</div>
	{/each}
</div>
<h2>The whole company as files</h2>
<p class="muted">
	A zip of plain tables: accounts, departments, people, ledger, scenarios, history. An empty installation is
	set up from it, with nothing lost; passwords and sessions are not in it.
</p>
<p class="zips">
	<Button quiet href="/api/v1/company/folder" download>Download the zip</Button>
	<Button quiet href="/api/v1/company/folder?figures=no" download>Without its figures</Button>
</p>
<p class="muted">
	Without its figures it is what another company can begin with: accounts, departments, models, people and one
	blank plan.
</p>

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
	.modules {
		display: grid;
		gap: 4px;
		margin: 8px 0 20px;
	}
	.modules > div {
		display: grid;
		grid-template-columns: 190px 1fr;
		align-items: center;
	}
	.zips {
		display: flex;
		gap: 8px;
	}
	p {
		max-width: 620px;
		margin-top: 6px;
	}
</style>
