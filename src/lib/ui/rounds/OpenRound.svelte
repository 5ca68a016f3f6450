<script lang="ts">
	import Tick from '../kit/form/Tick.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import Textarea from '../kit/form/Textarea.svelte';
	import Dialog from '../kit/Dialog.svelte';
	import { ApiError, post } from '../kit/api';
	import { useCompany } from '../shell/company';
	import { reread } from '../kit/reread';

	let { onclose }: { onclose: () => void } = $props();
	const company = useCompany();
	const scenarios = company.data.scenarios.filter((s) => s.kind !== 'actuals' && !s.locked);
	const departments = company.data.departments.filter((d) => d.leaf);
	let name = $state('');
	let scenario = $state(scenarios.at(-1)?.code ?? '');
	let due = $state('');
	let instructions = $state('');
	let chosen: string[] = $state(departments.map((d) => d.code));
	let problem = $state('');

	async function make(event: SubmitEvent) {
		event.preventDefault();
		try {
			await post('rounds', { name, scenario, due, instructions, departments: chosen });
			await reread();
			onclose();
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'The round was not opened.';
		}
	}
</script>

<Dialog title="Open a round" action="Open round" form="round" size="md" {problem} {onclose}>
	<form id="round" class="form" onsubmit={make}>
		<Label for="round-name">Name</Label>
		<Input id="round-name" required bind:value={name} placeholder="FY28 Budget, second pass" />
		<Label for="round-scenario">Scenario to plan in</Label>
		<Select
			id="round-scenario"
			items={scenarios.map((s) => ({ value: s.code, name: s.name }))}
			bind:value={scenario}
		/>
		<Label for="round-due">Due</Label>
		<Input id="round-due" type="date" required bind:value={due} />
		<Label for="round-text">Instructions</Label>
		<Textarea id="round-text" rows={2} bind:value={instructions} />
		<fieldset>
			<legend>Departments</legend>
			{#each departments as d (d.code)}<Tick value={d.code} bind:group={chosen}>{d.name}</Tick>{/each}
		</fieldset>
	</form>
</Dialog>

<style>
	.form {
		display: grid;
		gap: 6px;
	}
	fieldset {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 4px;
		max-height: 180px;
		overflow: auto;
	}
	legend {
		font-weight: 500;
		padding-bottom: 4px;
	}
</style>
