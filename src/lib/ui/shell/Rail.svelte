<script lang="ts">
	import { page } from '$app/state';
	import { useCompany, withSelection } from './company';

	const { data, calendar } = $derived(useCompany());
</script>

<nav aria-label="Stages of the work">
	<a class="brand" href={withSelection(data.stages[0].href, data.selection, calendar)}>Yardstave</a>
	{#each data.stages as stage (stage.href)}
		<a
			href={withSelection(stage.href, data.selection, calendar)}
			aria-current={page.url.pathname.startsWith(stage.href) ? 'page' : undefined}
		>
			<span>{stage.name}</span>
			{#if stage.note}<small>{stage.note}</small>{/if}
		</a>
	{/each}
</nav>

<style>
	nav {
		background: var(--rail);
		color: var(--rail-ink);
		width: 104px;
		flex: none;
		display: flex;
		flex-direction: column;
		overflow-y: auto;
	}
	.brand {
		font-family: var(--font-display);
		font-size: 16px;
		font-weight: 600;
		padding: 18px 12px 22px;
	}
	a {
		padding: 9px 12px 9px 14px;
		border-left: 3px solid transparent;
		line-height: 1.25;
		font-weight: 500;
	}
	a:focus-visible {
		outline-color: var(--rod-light);
		outline-offset: -3px;
	}
	a:not(.brand):hover {
		background: var(--rail-here);
	}
	[aria-current='page'] {
		background: var(--rail-here);
		border-left-color: var(--rod-light);
	}
	small {
		display: block;
		font-size: 12px;
		font-weight: 400;
		color: var(--rail-ink-2);
	}
</style>
