<script lang="ts" generics="Value extends string">
	import { Radio } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';

	/** One of a few ways, each with its words at the right. */
	interface Props {
		name: string;
		value: Value;
		group: Value;
		disabled?: boolean;
		children: Snippet;
	}
	let { group = $bindable(), value, children, ...rest }: Props = $props();
</script>

<Radio
	{...rest}
	{value}
	bind:group
	class="me-1.5"
	classes={{ label: 'text-[length:inherit] font-normal text-inherit' }}>{@render children()}</Radio
>
