<script lang="ts">
	import { untrack } from 'svelte';
	import type { Entity } from '../../core/company/schema';
	import type { DepartmentRow } from '../../core/views/department-row';
	import Dialog from '../kit/Dialog.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';

	/** Changes one department. */
	interface Props {
		department: DepartmentRow;
		/** Departments that it can lie under. */
		places: readonly DepartmentRow[];
		entities: readonly Entity[];
		problem: string;
		/** What it would do is being calculated. */
		busy: boolean;
		onchange: (change: Partial<DepartmentRow>) => void;
		onclose: () => void;
	}
	let { department, places, entities, problem, busy, onchange, onclose }: Props = $props();
	let form = $state(
		untrack(() => ({ name: department.name, parent: department.parent ?? '', entity: department.entity }))
	);
	/** Only what differs is sent. */
	function keep(event: SubmitEvent) {
		event.preventDefault();
		const { name, parent, entity } = form;
		onchange({
			...(name.trim() !== department.name && { name: name.trim() }),
			...(parent !== (department.parent ?? '') && { parent }),
			...(entity !== department.entity && { entity })
		});
	}
</script>

<Dialog
	title="Change {department.name}"
	action={busy ? 'Calculating …' : 'Change'}
	disabled={busy}
	form="department-form"
	{problem}
	{onclose}
>
	<form id="department-form" onsubmit={keep}>
		<Label for="department-name">Name</Label>
		<Input id="department-name" required maxlength={120} autocomplete="off" bind:value={form.name} />
		{#if department.parent !== null}
			<Label for="department-parent">Lies under</Label>
			<Select
				placeholder=""
				id="department-parent"
				items={places.map((d) => ({ value: d.code, name: `${'\u2003'.repeat(d.depth)}${d.name}` }))}
				bind:value={form.parent}
			/>
		{/if}
		<Label for="department-entity">Belongs to the legal entity</Label>
		<Select
			placeholder=""
			id="department-entity"
			items={entities.map((e) => ({ value: e.code, name: e.name }))}
			bind:value={form.entity}
		/>
	</form>
	<p class="muted">
		Its code is {department.code}, and stays. Who plans and reviews it is said under People.
	</p>
</Dialog>

<style>
	form {
		display: grid;
		gap: 8px;
	}
</style>
