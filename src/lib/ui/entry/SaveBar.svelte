<script lang="ts">
	import { counted } from '../writing/count';
	import { beforeNavigate } from '$app/navigation';
	import Button from '../kit/form/Button.svelte';
	import { RedoOutline, UndoOutline } from 'flowbite-svelte-icons';
	import type { EditBatch } from '../grid/editing/edits.svelte';
	import type { Entered } from '../grid/entered';

	/** Says how many cells are not saved; saves, undoes, discards; warns before they would be lost. */
	let { edits, saving, onsave }: { edits: EditBatch<Entered>; saving: boolean; onsave: () => void } =
		$props();
	const words = $derived(`${counted(edits.count, 'cell')} not saved`);

	/** Another arrangement of the same cells takes nothing away. */
	const sameCells = (from: URL | undefined, to: URL | undefined) =>
		from?.pathname === to?.pathname &&
		['scenario', 'department'].every((name) => from?.searchParams.get(name) === to?.searchParams.get(name));

	beforeNavigate((navigation) => {
		if (sameCells(navigation.from?.url, navigation.to?.url)) return;
		if (
			edits.count &&
			!navigation.willUnload &&
			!confirm(`${words}. Leave and lose ${edits.count === 1 ? 'it' : 'them'}?`)
		)
			navigation.cancel();
		else if (!navigation.willUnload) edits.clear();
	});

	function onkeydown(event: KeyboardEvent) {
		if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 's') {
			event.preventDefault();
			if (edits.count && !saving) onsave();
		}
	}
</script>

<svelte:window
	{onkeydown}
	onbeforeunload={(e) => {
		if (edits.count) e.preventDefault();
	}}
/>

<div class="bar">
	{#if edits.count}<span class="count" role="status">{words}</span>{/if}
	<Button
		quiet
		class="px-2"
		aria-label="Undo"
		title="Undo, Ctrl+Z"
		disabled={!edits.canUndo}
		onclick={() => edits.undo()}><UndoOutline class="h-4 w-4" /></Button
	>
	<Button
		quiet
		class="px-2"
		aria-label="Redo"
		title="Redo, Ctrl+Y"
		disabled={!edits.canRedo}
		onclick={() => edits.redo()}><RedoOutline class="h-4 w-4" /></Button
	>
	<Button quiet disabled={!edits.count || saving} onclick={() => edits.clear()}>Discard</Button>
	<Button disabled={!edits.count || saving} onclick={onsave}>{saving ? 'Saving …' : 'Save'}</Button>
</div>

<style>
	.bar {
		display: flex;
		gap: 8px;
		align-items: center;
		flex: none;
		white-space: nowrap;
	}
	.count {
		color: var(--plum);
		font-weight: 600;
	}
</style>
