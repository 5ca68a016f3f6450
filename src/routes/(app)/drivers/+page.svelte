<script lang="ts">
	import { goto } from '$app/navigation';
	import Cards from '$lib/ui/kit/Cards.svelte';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { useModules } from '$lib/ui/kit/modules';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import NewModelDialog from '$lib/ui/models/NewModelDialog.svelte';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';

	let { data } = $props();
	const company = useCompany();
	const isOn = useModules();
	const { calendar } = company;
	let making = $state(false);
	const href = (path: string) => withSelection(path, company.data.selection, calendar);
	const scenario = $derived(data.scenarios.find((s) => s.code === data.selection.scenario));
	const mayMake = $derived(
		data.may['change driver models'] && scenario && scenario.kind !== 'actuals' && !scenario.locked
	);

	function made(code: string) {
		making = false;
		notices.say('The model is made. Look through its lines, then type its figures.');
		void goto(href(`/drivers/${code}/design`), { invalidateAll: true });
	}
</script>

<svelte:head><title>Drivers · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>Drivers</h1>
		<p class="muted">
			Assumptions and driver models of the chosen scenario. What they compute is posted to accounts of
			departments.
		</p>
	</div>
	<div class="actions">
		<Button quiet href={href('/drivers/members')}>Members</Button>
		{#if isOn('seasonality')}<Button quiet href={href('/drivers/profiles')}>Seasonal profiles</Button>{/if}
		{#if isOn('combinations')}<Button quiet href={href('/drivers/combinations')}>Combination rules</Button
			>{/if}
		{#if mayMake}<Button onclick={() => (making = true)}>New driver model …</Button>{/if}
	</div>
</div>
{#if data.list.length}
	<Cards
		items={data.list}
		href={(m) => href(`/drivers/${m.code}`)}
		says={(m) =>
			`${m.dimensions.length ? `by ${m.dimensions.join(' × ')} · ${m.rows} rows` : 'one table'}${m.keptIn && ` · in ${m.keptIn}`} · ${m.lines} lines, ${m.inputs} of them typed`}
	/>
{:else if mayMake}
	<p class="muted">
		This scenario has no driver models yet. <TextButton onclick={() => (making = true)}
			>Make the first one</TextButton
		>: assumptions, or units times price.
	</p>
{:else}
	<p class="muted">This scenario has no driver models. Choose a plan in the selection bar.</p>
{/if}
{#if making && scenario}
	<NewModelDialog
		{scenario}
		others={data.scenarios.filter((s) => s.code !== scenario.code && s.kind !== 'actuals' && !s.locked)}
		models={data.list}
		dimensions={data.dimensions}
		onmade={made}
		onclose={() => (making = false)}
	/>
{/if}
