<script lang="ts">
	import { useModules } from '../kit/modules';
	import Tick from '../kit/form/Tick.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Radio from '../kit/form/Radio.svelte';
	import Select from '../kit/form/Select.svelte';
	import Textarea from '../kit/form/Textarea.svelte';
	import { untrack } from 'svelte';
	import { ApiError, patch } from '../kit/api';
	import { useCompany } from '../shell/company';
	import Dialog from '../kit/Dialog.svelte';
	import { notices } from '../kit/notices.svelte';
	import type { Entry } from './ScenarioList.svelte';
	import { reread } from '../kit/reread';

	/** What a scenario is called, where it stands, who sees it and how far it reaches. */
	interface Props {
		scenario: Entry;
		users: readonly { email: string; name: string }[];
		folders: readonly string[];
		/** Scenarios that may hold its targets. */
		others: readonly { code: string; name: string }[];
		/** Sets of exchange rates; none in a company of one currency. */
		rateSets: readonly { code: string; name: string; actuals: boolean }[];
		onclose: () => void;
	}
	let { scenario, users, folders, others, rateSets, onclose }: Props = $props();
	const { calendar } = useCompany();
	let name = $state(untrack(() => scenario.name));
	let description = $state(untrack(() => scenario.description));
	let folder = $state(untrack(() => scenario.folder));
	let visibility = $state(untrack(() => scenario.visibility));
	let people: string[] = $state(untrack(() => [...scenario.people]));
	const isOn = useModules();
	let target = $state(untrack(() => scenario.target ?? ''));
	let rates = $state(untrack(() => scenario.rates ?? ''));
	let last = $state(untrack(() => calendar.key(scenario.last)));
	let problem = $state('');
	const furthest = $derived(scenario.first + 10 * calendar.periodsPerYear - 1);
	const months = $derived(
		Array.from({ length: furthest - scenario.last + 1 }, (_, i) => scenario.last + i).map((p) => ({
			value: calendar.key(p),
			name: calendar.longLabel(p)
		}))
	);
	async function save() {
		try {
			await patch(`scenarios/${scenario.code}`, {
				name,
				description,
				folder,
				visibility,
				people: $state.snapshot(people),
				target: target || null,
				...(rates === (scenario.rates ?? '') ? {} : { rates: rates || null }),
				...(last === calendar.key(scenario.last) ? {} : { last })
			});
			await reread();
			notices.say(`${name} is changed.`);
			onclose();
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'This was not saved.';
		}
	}
</script>

<Dialog title={scenario.name} action="Save" size="md" {problem} onaction={save} {onclose}>
	<div class="form">
		<div>
			<Label for="scenario-name">Name</Label>
			<Input id="scenario-name" bind:value={name} />
		</div>
		<div>
			<Label for="scenario-folder">Folder</Label>
			<Input id="scenario-folder" list="folders" bind:value={folder} placeholder="none" />
			<datalist id="folders"
				>{#each folders as f (f)}<option value={f}></option>{/each}</datalist
			>
		</div>
		<div class="wide">
			<Label for="scenario-description">Description</Label>
			<Textarea id="scenario-description" rows={2} bind:value={description} />
		</div>
		<fieldset>
			<legend>Who sees it</legend>
			<Radio name="visibility" value="all" bind:group={visibility}>everybody</Radio>
			<Radio name="visibility" value="finance" bind:group={visibility}
				>those who answer for the whole company</Radio
			>
			<Radio name="visibility" value="people" bind:group={visibility}>its owner and named people</Radio>
			{#if visibility === 'people'}
				<div class="people">
					{#each users.filter((u) => u.email !== scenario.owner) as u (u.email)}
						<Tick value={u.email} bind:group={people}>{u.name}</Tick>
					{/each}
				</div>
			{/if}
		</fieldset>
		<div>
			<Label for="scenario-last">Reaches to</Label>
			<Select id="scenario-last" items={months} bind:value={last} disabled={scenario.locked} />
			<p class="muted">Made longer, typed lines go on as each says; typed accounts as the year before.</p>
			{#if isOn('targets')}
				<Label for="scenario-target" class="mt-3">Targets</Label>
				<Select
					id="scenario-target"
					placeholder=""
					items={[{ value: '', name: 'none' }, ...others.map((o) => ({ value: o.code, name: o.name }))]}
					bind:value={target}
				/>
				<p class="muted">The scenario that says what this one is to reach.</p>
			{/if}
			{#if rateSets.length}
				<Label for="scenario-rates" class="mt-3">Exchange rates</Label>
				<Select
					id="scenario-rates"
					placeholder=""
					items={[
						{ value: '', name: `as actuals (${rateSets.find((s) => s.actuals)?.name})` },
						...rateSets.filter((s) => !s.actuals).map((s) => ({ value: s.code, name: s.name }))
					]}
					bind:value={rates}
					disabled={scenario.locked}
				/>
			{/if}
		</div>
	</div>
</Dialog>

<style>
	.form {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 14px 18px;
	}
	.wide {
		grid-column: 1 / 3;
	}
	fieldset {
		display: grid;
		gap: 6px;
		align-content: start;
	}
	legend {
		font-weight: 500;
		margin-bottom: 4px;
	}
	.people {
		display: grid;
		gap: 4px;
		padding-left: 22px;
		max-height: 140px;
		overflow: auto;
	}
	p {
		font-size: 12px;
		margin-top: 4px;
	}
</style>
