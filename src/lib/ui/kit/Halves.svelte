<script lang="ts">
	import type { Snippet } from 'svelte';

	/** Two columns side by side, such as what is typed and what comes of it; what stands in each has room around it. */
	let { children }: { children: Snippet } = $props();
</script>

<div class="two">{@render children()}</div>

<style>
	.two {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 10px 20px;
	}
	.two > :global(div) {
		display: grid;
		align-content: start;
		gap: 8px;
	}
</style>
