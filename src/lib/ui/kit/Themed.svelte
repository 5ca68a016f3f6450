<script lang="ts">
	import { ThemeProvider, type ThemeConfig } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';

	/** Dresses the library's components, beyond the tokens of `app.css`, in all that stands in it. */
	let { children }: { children: Snippet } = $props();
	const theme: ThemeConfig = {
		// As high as the fields beside it.
		select: { select: 'py-1' }
	};
</script>

<ThemeProvider {theme}>{@render children()}</ThemeProvider>
