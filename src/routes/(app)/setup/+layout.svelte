<script lang="ts">
	import { page } from '$app/state';
	import { useModules } from '$lib/ui/kit/modules';
	import { useCompany, withSelection } from '$lib/ui/shell/company';

	let { children } = $props();
	const company = useCompany();
	const TABS = [
		['/setup/feed', 'Ledger feed'],
		['/setup/company', 'Company'],
		['/setup/accounts', 'Accounts'],
		['/setup/map', 'Account map'],
		['/setup/departments', 'Departments'],
		['/setup/currencies', 'Currencies', 'currencies'],
		['/setup/people', 'People'],
		['/setup/mail', 'Mail']
	] as const;
	const isOn = useModules();
</script>

<nav class="tabs" aria-label="Set up">
	{#each TABS.filter(([, , module]) => !module || isOn(module)) as [href, name] (href)}
		<a
			href={withSelection(href, company.data.selection, company.calendar)}
			aria-current={page.url.pathname === href ? 'page' : undefined}>{name}</a
		>
	{/each}
</nav>
{@render children()}

<style>
	.tabs {
		display: flex;
		gap: 18px;
		border-bottom: 1px solid var(--rule);
		margin-bottom: 12px;
		flex: none;
	}
	a {
		padding: 2px 0 6px;
		color: var(--ink-2);
	}
	[aria-current] {
		color: var(--ink);
		font-weight: 600;
		box-shadow: inset 0 -2px var(--green);
	}
</style>
