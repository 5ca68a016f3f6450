<script lang="ts">
	import '../app.css';
	import { onMount } from 'svelte';

	let { children } = $props();
	// Says that the page answers to keys and clicks now.
	onMount(() => {
		document.documentElement.dataset.ready = 'yes';
	});
</script>

<svelte:head><title>Yardstave</title></svelte:head>
{@render children()}
