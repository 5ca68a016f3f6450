<script
	lang="ts"
	generics="T extends { code: string; name: string; description: string; postings: readonly string[] }"
>
	/** A list of things that each have a page, two beside each other. */
	interface Props {
		items: readonly T[];
		href: (item: T) => string;
		/** What each is made of, in a line. */
		says: (item: T) => string;
	}
	let { items, href, says }: Props = $props();
</script>

<div class="cards">
	{#each items as item (item.code)}
		<a class="panel" href={href(item)}>
			<h2>{item.name}</h2>
			<p>{item.description}</p>
			<p class="muted">
				{says(item)}
				{#if item.postings.length}<br />posts {item.postings.join(', ')}{/if}
			</p>
		</a>
	{/each}
</div>

<style>
	.cards {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 12px;
		margin-top: 12px;
	}
	.panel {
		display: grid;
		gap: 4px;
		align-content: start;
	}
	.panel:hover {
		border-color: var(--green);
	}
</style>
