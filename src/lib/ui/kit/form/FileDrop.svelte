<script lang="ts">
	import type { Snippet } from 'svelte';

	/** Where a file is dropped, or chosen from the disk. */
	interface Props {
		/** What file it is, for those who cannot see where it stands. */
		label: string;
		/** The id of the field. */
		id?: string;
		accept: string;
		/** The name of the file that is chosen. */
		chosen?: string;
		onfile: (file: File | undefined) => void;
		/** The words of the field. */
		children: Snippet;
		/** What stands behind it, as how far the reading is. */
		after?: Snippet;
	}
	let { label, id = 'file', accept, chosen, onfile, children, after }: Props = $props();
	let over = $state(false);
	let picker: HTMLInputElement | undefined = $state();

	/** The field is empty again: the same file can be chosen once more. */
	export function clear() {
		if (picker) picker.value = '';
	}
</script>

<div
	class:over
	role="group"
	aria-label={label}
	ondragover={(e) => {
		e.preventDefault();
		over = true;
	}}
	ondragleave={() => (over = false)}
	ondrop={(e) => {
		e.preventDefault();
		over = false;
		onfile(e.dataTransfer?.files[0]);
	}}
>
	<label for={id}
		>{#if chosen}<b>{chosen}</b> <span class="plain">choose another</span>{:else}<b class="plain"
				>{@render children()}</b
			>, or drop it here{/if}</label
	>
	<input
		{id}
		bind:this={picker}
		class="sr-only"
		type="file"
		{accept}
		onchange={(e) => onfile(e.currentTarget.files?.[0])}
	/>
	{@render after?.()}
</div>

<style>
	div {
		position: relative;
		display: flex;
		gap: 14px;
		align-items: center;
		border: 1px dashed var(--rule-strong);
		border-radius: 6px;
		padding: 14px 16px;
		margin: 10px 0;
		background: var(--sheet);
		flex: none;
	}
	.over {
		background: var(--green-tint);
	}
	label {
		cursor: pointer;
	}
	div:focus-within {
		outline: 2px solid var(--green);
		outline-offset: 2px;
	}
	div > :global(:last-child:not(input)) {
		margin-left: auto;
	}
</style>
