<script lang="ts">
	import { Modal } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';
	import Button from './form/Button.svelte';

	/** A dialog that stands while its component does: one action, or a way out. */
	interface Props {
		title: string;
		/** Words of the main button. */
		action: string;
		/** The form that the main button sends; without one it calls `onaction`. */
		form?: string;
		disabled?: boolean;
		/** Nothing is undone by leaving it: one button will do. */
		reads?: boolean;
		size?: 'sm' | 'md' | 'lg' | 'xl';
		problem?: string;
		/** Words of the way out. */
		leave?: string;
		/** Other ways on, between the main button and the way out. */
		also?: Snippet;
		onaction?: () => void;
		onclose: () => void;
		children: Snippet;
	}
	let {
		title,
		action,
		form,
		disabled = false,
		reads = false,
		size = 'sm',
		problem = '',
		leave = 'Cancel',
		also,
		onaction,
		onclose,
		children
	}: Props = $props();
	let open = $state(true);
	/** A dialog that fades holds the focus until it is gone, and the next key would be lost. */
	const transitionParams = { duration: 0 };
</script>

<Modal
	{title}
	{size}
	{transitionParams}
	bind:open={
		() => open,
		(v) => {
			open = v;
			if (!v) onclose();
		}
	}
>
	{@render children()}
	{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
	{#snippet footer()}
		<Button size="md" type={form ? 'submit' : 'button'} {form} {disabled} onclick={onaction}>{action}</Button>
		{@render also?.()}
		{#if !reads}<Button size="md" quiet onclick={onclose}>{leave}</Button>{/if}
	{/snippet}
</Modal>

<style>
	.problem {
		color: var(--clay);
		font-weight: 600;
	}
</style>
