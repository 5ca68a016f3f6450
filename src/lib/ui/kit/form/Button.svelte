<script lang="ts">
	import { Button } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';
	import type { HTMLAnchorAttributes, HTMLButtonAttributes } from 'svelte/elements';

	/** What is done with it stands on it in words. With `href` it is a link that looks the same. */
	interface Props
		extends Omit<HTMLButtonAttributes, 'class'>, Pick<HTMLAnchorAttributes, 'href' | 'download'> {
		/** One of several ways on rather than the main one. */
		quiet?: boolean;
		size?: 'xs' | 'sm' | 'md';
		class?: string;
		children: Snippet;
	}
	let { quiet = false, size = 'xs', children, ...rest }: Props = $props();
</script>

<Button {...rest as object} {size} color={quiet ? 'light' : 'primary'}>{@render children()}</Button>
