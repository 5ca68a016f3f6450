<script lang="ts">
	import { Label } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';
	import type { HTMLLabelAttributes } from 'svelte/elements';

	/** The words of a field, above it. */
	interface Props extends Omit<HTMLLabelAttributes, 'class' | 'color'> {
		class?: string;
		children: Snippet;
	}
	let { children, ...rest }: Props = $props();
</script>

<Label {...rest}>{@render children()}</Label>
