<script lang="ts">
	import { Input } from 'flowbite-svelte';
	import type { HTMLInputAttributes } from 'svelte/elements';

	/** A field of one line that lies close to what it is about. */
	interface Props extends Omit<HTMLInputAttributes, 'size' | 'value' | 'class'> {
		value?: string | number;
		class?: string;
		/** Its width in characters. */
		characters?: number;
	}
	let { value = $bindable(''), characters, style, class: more = '', ...rest }: Props = $props();
</script>

<Input
	{...rest as object}
	bind:value
	style={characters ? `width: ${characters + 2}ch` : style}
	class="field inline-block w-auto opacity-100 {more}"
/>
