<script lang="ts">
	import { tick, untrack } from 'svelte';
	import Dialog from '../kit/Dialog.svelte';
	import Field from '../kit/form/Field.svelte';

	/** What a row that is put in is known by, until it is saved. */
	interface Props {
		id: string;
		/** Why it cannot be this one; null where it can. */
		fault: (to: string) => string | null;
		onchoose: (to: string) => void;
		onclose: () => void;
	}
	let { id, fault, onchoose, onclose }: Props = $props();

	let text = $state(untrack(() => id));
	const wanted = $derived(text.trim());
	const wrong = $derived(fault(wanted));
	const choose = () => wrong === null && onchoose(wanted);
</script>

<Dialog title="Identifier of {id}" action="Call it so" disabled={wrong !== null} onaction={choose} {onclose}>
	<Field
		aria-label="Identifier"
		aria-invalid={wrong !== null}
		aria-describedby="identifier-fault"
		bind:value={text}
		{@attach (node) =>
			void tick().then(() => {
				node.focus();
				(node as HTMLInputElement).select();
			})}
		onkeydown={(e) => {
			if (e.key !== 'Enter') return;
			e.preventDefault();
			choose();
		}}
	/>
	<p class={wrong ? 'fault' : 'muted'} id="identifier-fault">
		{wrong
			? `${wrong[0].toUpperCase()}${wrong.slice(1)}.`
			: 'A number or any other word by which files find it again. It stays once the row is saved.'}
	</p>
</Dialog>

<style>
	.fault {
		color: var(--clay);
	}
</style>
