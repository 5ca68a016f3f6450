<script lang="ts">
	import '../app.css';

	let { children } = $props();
</script>

<svelte:head><title>Yardstave</title></svelte:head>
{@render children()}
