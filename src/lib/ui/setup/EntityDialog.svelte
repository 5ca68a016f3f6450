<script lang="ts">
	import { untrack } from 'svelte';
	import type { Entity } from '../../core/company/schema';
	import { ApiError, patch, post } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';

	/** Adds a legal entity, or renames one. */
	interface Props {
		/** Null for a new one. */
		entity: Entity | null;
		ondone: (words: string) => void;
		onclose: () => void;
	}
	let { entity, ondone, onclose }: Props = $props();
	let name = $state(untrack(() => entity?.name ?? ''));
	let problem = $state('');
	let busy = $state(false);

	async function keep(event: SubmitEvent) {
		event.preventDefault();
		busy = true;
		try {
			if (entity) await patch(`entities/${encodeURIComponent(entity.code)}`, { name });
			else await post('entities', { name });
			ondone(entity ? `${name} is changed.` : `${name} is there: give it departments with “change”.`);
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'It was not saved.';
			busy = false;
		}
	}
</script>

<Dialog
	title={entity ? `Rename ${entity.name}` : 'A new legal entity'}
	action={entity ? 'Rename' : 'Add'}
	form="entity-form"
	disabled={busy}
	{problem}
	{onclose}
>
	<form id="entity-form" onsubmit={keep}>
		<Label for="entity-name">Name</Label>
		<Input id="entity-name" required maxlength={120} autocomplete="off" bind:value={name} />
	</form>
</Dialog>
