<script lang="ts">
	import '../app.css';
	import { onMount } from 'svelte';
	import Themed from '$lib/ui/kit/Themed.svelte';

	let { children } = $props();
	// Says that the page answers to keys and clicks now.
	onMount(() => {
		document.documentElement.dataset.ready = 'yes';
	});
</script>

<svelte:head><title>Yardstave</title></svelte:head>
<Themed>{@render children()}</Themed>
