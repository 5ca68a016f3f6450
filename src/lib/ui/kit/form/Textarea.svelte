<script lang="ts">
	import { Textarea } from 'flowbite-svelte';
	import type { HTMLTextareaAttributes } from 'svelte/elements';

	/** A field of several lines, as wide as the form. */
	interface Props extends Omit<HTMLTextareaAttributes, 'value' | 'class'> {
		value?: string;
		class?: string;
	}
	let { value = $bindable(''), class: more = '', ...rest }: Props = $props();
</script>

<Textarea {...rest as object} bind:value class="w-full {more}" classes={{ div: 'contents' }} />
