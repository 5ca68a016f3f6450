<script lang="ts">
	import { replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import type { Account } from '$lib/core/company/schema';
	import type { ChartRow } from '$lib/core/views/chart-row';
	import { patch, post } from '$lib/ui/kit/api';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import SaveBar from '$lib/ui/entry/SaveBar.svelte';
	import { EditBatch } from '$lib/ui/grid/editing/edits.svelte';
	import type { Entered } from '$lib/ui/grid/entered';
	import ListPage from '$lib/ui/kit/ListPage.svelte';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import Segments from '$lib/ui/kit/Segments.svelte';
	import AccountDialog from '$lib/ui/setup/AccountDialog.svelte';
	import { FLOWS, FORMATS, nameIn, ROLLUPS, TYPES } from '$lib/ui/setup/account-words';
	import AccountTable from '$lib/ui/setup/AccountTable.svelte';
	import AddAccounts from '$lib/ui/setup/AddAccounts.svelte';
	import AskMove from '$lib/ui/setup/AskMove.svelte';
	import { notUnder } from '$lib/ui/setup/steps';
	import TreeListing from '$lib/ui/setup/TreeListing.svelte';
	import { TreeChanges } from '$lib/ui/setup/tree-changes.svelte';
	import { useCompany } from '$lib/ui/shell/company';
	import { counted } from '$lib/ui/writing/count';

	/** They are no money, and in no cash flow. */
	const COUNTED: ReadonlySet<string> = new Set(['statistical', 'rate']);

	let { data } = $props();
	const { calendar } = useCompany();
	const VIEWS = [
		{ key: 'tree', name: 'Tree' },
		{ key: 'table', name: 'Table' }
	] as const;
	let view = $state<(typeof VIEWS)[number]['key']>(
		page.url.searchParams.get('as') === 'table' ? 'table' : 'tree'
	);
	let table = $state<AccountTable>();
	/** What is typed in the table and not saved. */
	const edits = new EditBatch<Entered>();
	function look(as: (typeof VIEWS)[number]['key']) {
		if (edits.count) return notices.say('Save what is typed in the table first, or discard it.', true);
		view = as;
		const url = new URL(page.url);
		if (as === 'table') url.searchParams.set('as', as);
		else url.searchParams.delete('as');
		replaceState(url, {});
	}
	let text = $state('');
	const changes = new TreeChanges<ChartRow>({
		get items() {
			return data.accounts;
		},
		path: 'accounts',
		one: 'account',
		counts: ['parent', 'type', 'rollup', 'translation'],
		async putBack({ code, name, parent, type, rollup, format, cashFlow, translation }, before) {
			await post('accounts', { parent, outline: `${code} ${name}`, type });
			await patch(`accounts/${encodeURIComponent(code)}`, {
				rollup,
				format,
				cashFlow,
				before,
				...(translation ? { translation } : {})
			});
		}
	});
	const words = $derived(text.toLowerCase().split(/\s+/).filter(Boolean));
	const shown = $derived(
		data.accounts.filter((a) => {
			const all = `${a.name} ${a.code} ${nameIn(TYPES, a.type)}`.toLowerCase();
			return words.every((w) => all.includes(w));
		})
	);
	const headings = $derived(data.accounts.filter((a) => !a.leaf));
	const added = (made: Account[]) =>
		void changes.added(
			made.map((a) => ({ ...a, depth: 0, leaf: true, holds: false, ledger: 0, flow: 'operating' }))
		);
</script>

<ListPage title="Accounts" find="Find an account" bind:text>
	{#snippet says()}{counted(data.accounts.filter((a) => a.leaf).length, 'account')} under {counted(
			headings.length,
			'heading'
		)}. {#if view === 'tree'}Arrow keys lead from row to row; drag a row to move it, or press Alt with an
			arrow key in it.{:else}Type into cells, paste from a spreadsheet, or fill down; what would move figures
			is said before it is saved.{/if}{/snippet}
	{#snippet action()}
		{#if view === 'table'}
			<SaveBar {edits} saving={table?.busy() ?? false} onsave={() => void table?.save()} />
		{:else}<Button onclick={() => changes.add(null)}>Add at the top …</Button>{/if}
	{/snippet}
	{#snippet views()}<Segments label="Shown as" choices={VIEWS} chosen={view} onchoose={look} />{/snippet}
	{#if view === 'table'}<AccountTable
			bind:this={table}
			accounts={shown}
			all={data.accounts}
			{edits}
			{calendar}
		/>{:else}
		<TreeListing
			one="Account"
			items={shown}
			found={words.length > 0}
			{changes}
			columns={5}
			onadd={(account) => changes.add(account)}
		>
			{#snippet heads()}<th>Is</th><th>Over time</th><th>Written as</th><th>Cash flow</th><th class="num"
					>Ledger accounts</th
				>{/snippet}
			{#snippet cells(a)}
				<td>{nameIn(TYPES, a.type)}{a.translation ? ', translation difference' : ''}</td>
				<td class="short">{a.leaf ? nameIn(ROLLUPS, a.rollup) : ''}</td>
				<td>{a.leaf ? nameIn(FORMATS, a.format) : ''}</td>
				<td class={['short', !a.cashFlow && 'muted']}>{COUNTED.has(a.type) ? '' : nameIn(FLOWS, a.flow)}</td>
				<td class="num">{a.ledger || ''}</td>
			{/snippet}
		</TreeListing>
	{/if}
</ListPage>
{#if changes.editing}
	<AccountDialog
		account={changes.editing}
		headings={notUnder(headings, changes.editing.code, data.accounts)}
		problem={changes.problem}
		busy={changes.busy}
		onchange={(change) => void changes.change(changes.editing!, change)}
		onclose={() => (changes.editing = null)}
	/>
{/if}
{#if changes.adding}
	<AddAccounts heading={changes.adding.under} ondone={added} onclose={() => (changes.adding = null)} />
{/if}
{#if changes.asking}<AskMove asked={changes.asking} {changes} format={changes.asking.item.format} />{/if}

<style>
	.short {
		white-space: nowrap;
	}
</style>
