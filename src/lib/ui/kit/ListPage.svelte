<script lang="ts">
	import type { Snippet } from 'svelte';
	import Field from './form/Field.svelte';

	/** A page that is one list: what it is, what can be added, a search, and the list, which scrolls by itself. */
	interface Props {
		title: string;
		/** The state of things, as a sentence. */
		says: Snippet;
		/** What can be done about the whole list. */
		action?: Snippet;
		/** Words of the search; without them there is none. */
		find?: string;
		text?: string;
		/** Ways to look at the list. */
		views?: Snippet;
		children: Snippet;
	}
	let { title, says, action, find, text = $bindable(''), views, children }: Props = $props();
</script>

<svelte:head><title>{title} · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>{title}</h1>
		<p class="muted">{@render says()}</p>
	</div>
	{@render action?.()}
</div>
{#if find}<div class="tools">
		<Field placeholder={find} aria-label={find} bind:value={text} />{@render views?.()}
	</div>{/if}
<div class="scroll">{@render children()}</div>

<style>
	.top {
		display: flex;
		justify-content: space-between;
		align-items: start;
		gap: 16px;
	}
	.top > div {
		margin-bottom: 10px;
	}
	.top > :global(button) {
		flex: none;
		white-space: nowrap;
	}
	.tools {
		display: flex;
		gap: 16px;
		align-items: center;
		margin-bottom: 10px;
	}
	.scroll {
		overflow: auto;
		flex: 1;
		min-height: 0;
	}
	/* What can be done about one row. */
	.scroll :global(.doing) {
		white-space: nowrap;
		text-align: right;
		font-weight: 400;
	}
	.scroll :global(.doing button) {
		margin-left: 12px;
	}
</style>
