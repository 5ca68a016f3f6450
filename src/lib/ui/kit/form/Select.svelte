<script lang="ts" generics="Value extends string | number">
	import { Select } from 'flowbite-svelte';
	import type { HTMLSelectAttributes } from 'svelte/elements';

	/** One of several, chosen from a list that opens, in a form and as wide as the form. */
	interface Props extends Omit<HTMLSelectAttributes, 'size' | 'value' | 'class'> {
		items: readonly { value: Value; name: string }[];
		value?: Value;
		/** What stands first and cannot be chosen. */
		placeholder?: string;
		class?: string;
	}
	let { items, value = $bindable(), ...rest }: Props = $props();
</script>

<Select {...rest as object} items={[...items]} size="sm" bind:value />
