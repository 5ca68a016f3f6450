<script lang="ts">
	import { Input } from 'flowbite-svelte';
	import type { HTMLInputAttributes } from 'svelte/elements';

	/** A field of one line in a form, as wide as the form. */
	interface Props extends Omit<HTMLInputAttributes, 'size' | 'value' | 'class'> {
		value?: string | number;
		size?: 'sm' | 'md';
		class?: string;
	}
	let { value = $bindable(''), size = 'sm', ...rest }: Props = $props();
</script>

<Input {...rest as object} {size} bind:value />
