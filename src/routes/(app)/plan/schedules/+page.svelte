<script lang="ts">
	import { goto } from '$app/navigation';
	import Cards from '$lib/ui/kit/Cards.svelte';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import NewScheduleDialog from '$lib/ui/schedules/NewScheduleDialog.svelte';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import { counted } from '$lib/ui/writing/count';

	let { data } = $props();
	const company = useCompany();
	let making = $state(false);
	const href = (path: string) => withSelection(path, company.data.selection, company.calendar);
	const scenario = $derived(data.scenarios.find((s) => s.code === data.selection.scenario));
	const mayMake = $derived(
		data.may['change schedules'] && scenario && scenario.kind !== 'actuals' && !scenario.locked
	);
	function made(code: string) {
		making = false;
		notices.say('The schedule is made. Add its first rows, or look through its columns and lines.');
		void goto(href(`/plan/schedules/${code}`), { invalidateAll: true });
	}
</script>

<svelte:head><title>Schedules · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>Schedules</h1>
		<p class="muted">
			Lists whose rows cost money month by month: who starts when, what renews, what wears out. What rows come
			to is posted to accounts of departments.
		</p>
	</div>
	<div class="actions">
		<Button quiet href={href('/plan')}>Plan</Button>
		{#if mayMake}<Button onclick={() => (making = true)}>New schedule …</Button>{/if}
	</div>
</div>
{#if data.list.length}
	<Cards
		items={data.list}
		href={(s) => href(`/plan/schedules/${s.code}`)}
		says={(s) => `${counted(s.rows, 'row')} · ${counted(s.lines, 'line')}, ${s.inputs} of them typed`}
	/>
{:else if mayMake}
	<p class="muted">
		This scenario has no schedules yet. <TextButton onclick={() => (making = true)}
			>Make the first one</TextButton
		>: people, contracts, assets, or a list of your own.
	</p>
{:else}
	<p class="muted">This scenario has no schedules. Choose a plan in the selection bar.</p>
{/if}
{#if making && scenario}
	<NewScheduleDialog
		{scenario}
		others={data.scenarios.filter((s) => s.code !== scenario.code && s.kind !== 'actuals' && !s.locked)}
		schedules={data.list}
		accounts={data.posted}
		onmade={made}
		onclose={() => (making = false)}
	/>
{/if}
