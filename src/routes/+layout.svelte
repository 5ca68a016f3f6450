<script lang="ts">
	import '../app.css';
	import { ThemeProvider } from 'flowbite-svelte';
	import { onMount } from 'svelte';
	import { theme } from '$lib/ui/kit/theme';

	let { children } = $props();
	// Says that the page answers to keys and clicks now.
	onMount(() => {
		document.documentElement.dataset.ready = 'yes';
	});
</script>

<svelte:head><title>Yardstave</title></svelte:head>
<ThemeProvider {theme}>{@render children()}</ThemeProvider>
