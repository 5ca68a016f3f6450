<script lang="ts">
	import { untrack } from 'svelte';
	import { ApiError } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';

	/** Names a set of exchange rates, or makes one. */
	interface Set {
		code: string;
		name: string;
	}
	interface Props {
		/** Null for a new one. */
		set: Set | null;
		sets: readonly Set[];
		onkeep: (name: string, from: string | null) => Promise<void>;
		onclose: () => void;
	}
	let { set, sets, onkeep, onclose }: Props = $props();
	let name = $state(untrack(() => set?.name ?? ''));
	let from = $state(untrack(() => sets[0]?.code ?? ''));
	let problem = $state('');
	async function keep(event: SubmitEvent) {
		event.preventDefault();
		try {
			await onkeep(name, from || null);
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'It was not saved.';
		}
	}
</script>

<Dialog
	title={set ? `Rename ${set.name}` : 'A new set of rates'}
	action={set ? 'Rename' : 'Make it'}
	form="rates-form"
	{problem}
	{onclose}
>
	<form id="rates-form" onsubmit={keep}>
		<Label for="rates-name">Name</Label>
		<Input
			id="rates-name"
			required
			maxlength={120}
			autocomplete="off"
			placeholder="Budget rates FY28"
			bind:value={name}
		/>
		{#if !set && sets.length}
			<Label for="rates-from">Begins with the rates of</Label>
			<Select
				placeholder=""
				id="rates-from"
				items={[...sets.map((s) => ({ value: s.code, name: s.name })), { value: '', name: 'none' }]}
				bind:value={from}
			/>
		{/if}
	</form>
</Dialog>

<style>
	form {
		display: grid;
		gap: 8px;
	}
</style>
