<script lang="ts" generics="Entry extends { kind: string; name: string }">
	import { tick } from 'svelte';

	/** A field over the page that finds and leads: words narrow the list, the arrow keys move in it, Enter follows. */
	interface Props {
		open: boolean;
		label: string;
		placeholder: string;
		/** What fits these words, best first. */
		find: (words: string) => readonly Entry[];
		onfollow: (entry: Entry) => void;
	}
	let { open = $bindable(false), label, placeholder, find, onfollow }: Props = $props();
	const id = $props.id();
	let text = $state('');
	let at = $state(0);
	let dialog: HTMLDialogElement | undefined = $state();
	let field: HTMLInputElement | undefined = $state();
	const found = $derived(open ? find(text) : []);

	$effect(() => {
		if (open && dialog && !dialog.open) {
			text = '';
			at = 0;
			dialog.showModal();
			void tick().then(() => field?.focus());
		} else if (!open && dialog?.open) dialog.close();
	});

	function follow(entry: Entry | undefined) {
		if (!entry) return;
		open = false;
		onfollow(entry);
	}
	function onkeydown(event: KeyboardEvent) {
		if (event.key === 'ArrowDown') at = Math.min(at + 1, found.length - 1);
		else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
		else if (event.key === 'Enter') follow(found[at]);
		else return;
		event.preventDefault();
	}
</script>

<dialog
	bind:this={dialog}
	aria-label={label}
	onclose={() => (open = false)}
	onclick={(e) => e.target === dialog && (open = false)}
>
	<div class="box">
		<input
			bind:this={field}
			bind:value={text}
			oninput={() => (at = 0)}
			{onkeydown}
			{placeholder}
			role="combobox"
			aria-label={label}
			aria-expanded="true"
			aria-controls="{id}-list"
			aria-activedescendant={found.length ? `${id}-${at}` : undefined}
		/>
		<ul id="{id}-list" role="listbox" aria-label="Places">
			{#each found as entry, i (entry)}
				<!-- svelte-ignore a11y_click_events_have_key_events -->
				<li id="{id}-{i}" role="option" aria-selected={i === at} onclick={() => follow(entry)}>
					<span>{entry.name}</span><small>{entry.kind}</small>
				</li>
			{:else}
				<li class="none" role="option" aria-selected="false">Nothing has this name.</li>
			{/each}
		</ul>
	</div>
</dialog>

<style>
	dialog {
		margin: 90px auto auto;
		width: 520px;
		border: 1px solid var(--rule-strong);
		border-radius: 8px;
		background: var(--sheet);
		color: var(--ink);
		padding: 0;
		box-shadow: 0 16px 48px var(--shade);
	}
	dialog::backdrop {
		background: var(--shade);
	}
	input {
		width: 100%;
		border: 0;
		border-bottom: 1px solid var(--rule);
		padding: 12px 16px;
		font: inherit;
		font-size: 15px;
		background: transparent;
		color: var(--ink);
		outline: none;
	}
	li {
		display: flex;
		justify-content: space-between;
		padding: 6px 16px;
		cursor: pointer;
	}
	li small {
		color: var(--ink-2);
	}
	[aria-selected='true'] {
		background: var(--green-tint);
	}
	.none {
		color: var(--ink-2);
	}
</style>
