<script lang="ts">
	import type { Snippet } from 'svelte';

	/** A page before anybody is signed in: one card, and what went wrong under it. */
	interface Props {
		title: string;
		/** In pixels. */
		width: number;
		problem?: string;
		children: Snippet;
	}
	let { title, width, problem, children }: Props = $props();
</script>

<div class="page">
	<main style:width="{width}px">
		<h1>{title}</h1>
		{@render children()}
		{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
	</main>
</div>

<style>
	.page {
		height: 100vh;
		display: grid;
		place-items: center;
		overflow: auto;
		/* What is placed out of sight stays within: elsewhere, taking the focus would move the whole page. */
		position: relative;
	}
	main {
		background: var(--sheet);
		border: 1px solid var(--rule);
		border-radius: 10px;
		padding: 28px 32px;
		max-width: calc(100vw - 32px);
		display: grid;
		gap: 10px;
	}
	h1 {
		font-size: 26px;
	}
	main > :global(form) {
		display: grid;
		gap: 8px;
	}
	.problem {
		color: var(--clay);
		font-weight: 600;
	}
</style>
