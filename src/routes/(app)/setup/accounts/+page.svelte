<script lang="ts">
	import type { ComponentProps } from 'svelte';
	import type { Account } from '$lib/core/company/schema';
	import type { ChartRow } from '$lib/core/views/chart-row';
	import { patch, post } from '$lib/ui/kit/api';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { ACCOUNT_COLUMNS, accountCell, accountWords } from '$lib/ui/setup/account-cells';
	import AccountDialog from '$lib/ui/setup/AccountDialog.svelte';
	import { FLOWS, FORMATS, nameIn, ROLLUPS, TYPES } from '$lib/ui/setup/account-words';
	import AddAccounts from '$lib/ui/setup/AddAccounts.svelte';
	import AskMove from '$lib/ui/setup/AskMove.svelte';
	import { notUnder } from '$lib/ui/setup/steps';
	import { tableRows } from '$lib/ui/setup/table';
	import TreeListing from '$lib/ui/setup/TreeListing.svelte';
	import TreePage from '$lib/ui/setup/TreePage.svelte';
	import { TreeChanges } from '$lib/ui/setup/tree-changes.svelte';
	import { counted } from '$lib/ui/writing/count';

	/** They are no money, and in no cash flow. */
	const COUNTED: ReadonlySet<string> = new Set(['statistical', 'rate']);

	let { data } = $props();
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
	const byCode = $derived(new Map(data.accounts.map((a) => [a.code, a])));
	const headings = $derived(data.accounts.filter((a) => !a.leaf));
	const added = (made: Account[]) =>
		void changes.added(
			made.map((a) => ({ ...a, depth: 0, leaf: true, holds: false, ledger: 0, flow: 'operating' }))
		);
	/** The same as a table. */
	const table: ComponentProps<typeof TreePage>['table'] = $derived({
		path: 'accounts',
		one: 'account',
		columns: ACCOUNT_COLUMNS,
		rows: tableRows(shown),
		cell: (row, column) => accountCell(byCode.get(row.key)!, column.key),
		wordsOf: accountWords,
		nameOf: (code) => byCode.get(code)?.name ?? code,
		formatOf: (code) => byCode.get(code)?.format,
		counts: ['type', 'rollup'],
		moves: 'Totals that hold them change, for they have figures:'
	});
</script>

<TreePage title="Accounts" find="Find an account" bind:text {table}>
	{#snippet says()}{counted(data.accounts.filter((a) => a.leaf).length, 'account')} under {counted(
			headings.length,
			'heading'
		)}.{/snippet}
	{#snippet action()}<Button onclick={() => changes.add(null)}>Add at the top …</Button>{/snippet}
	{#snippet tree()}
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
	{/snippet}
</TreePage>
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
