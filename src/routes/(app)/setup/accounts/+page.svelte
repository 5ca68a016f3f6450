<script lang="ts">
	import type { Account } from '$lib/core/company/schema';
	import type { ChartRow } from '$lib/core/views/chart-row';
	import { patch, post } from '$lib/ui/kit/api';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import { Growing } from '$lib/ui/kit/growing.svelte';
	import ListPage from '$lib/ui/kit/ListPage.svelte';
	import Listing from '$lib/ui/kit/Listing.svelte';
	import AccountDialog from '$lib/ui/setup/AccountDialog.svelte';
	import { FORMATS, nameIn, ROLLUPS, TYPES } from '$lib/ui/setup/account-words';
	import AddAccounts from '$lib/ui/setup/AddAccounts.svelte';
	import AskMove from '$lib/ui/setup/AskMove.svelte';
	import { notUnder } from '$lib/ui/setup/steps';
	import { TreeChanges } from '$lib/ui/setup/tree-changes.svelte';
	import { counted } from '$lib/ui/writing/count';

	let { data } = $props();
	let text = $state('');
	const growing = new Growing();
	const changes = new TreeChanges<ChartRow>({
		get items() {
			return data.accounts;
		},
		path: 'accounts',
		one: 'account',
		counts: ['parent', 'type', 'rollup'],
		async putBack({ code, name, parent, type, rollup, format, nonCash }, before) {
			await post('accounts', { parent, outline: `${code} ${name}`, type });
			await patch(`accounts/${encodeURIComponent(code)}`, { rollup, format, nonCash, before });
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
		void changes.added(made.map((a) => ({ ...a, depth: 0, leaf: true, holds: false, ledger: 0 })));
</script>

<ListPage title="Accounts" find="Find an account" bind:text>
	{#snippet says()}{counted(data.accounts.filter((a) => a.leaf).length, 'account')} under {counted(
			headings.length,
			'heading'
		)}. Alt with an arrow key moves the one whose row you are in: up, down, under the one above, out of its
		heading.{/snippet}
	{#snippet action()}<Button onclick={() => changes.add(null)}>Add at the top …</Button>{/snippet}
	<Listing>
		<thead>
			<tr>
				<th>Account</th><th>Code</th><th>Is</th><th>Over time</th><th>Written as</th><th class="num"
					>Ledger accounts</th
				>
				<th></th>
			</tr>
		</thead>
		<tbody>
			{#each shown.slice(0, growing.most) as a (a.code)}
				<tr
					class:sum={!a.leaf}
					data-item={a.code}
					onkeydown={(event) => void (words.length || changes.onkeydown(event, a))}
				>
					<td style:padding-left="{10 + a.depth * 16}px">{a.name}</td>
					<td class="code">{a.code}</td>
					<td>{nameIn(TYPES, a.type)}{a.nonCash ? ', never paid' : ''}</td>
					<td>{a.leaf ? nameIn(ROLLUPS, a.rollup) : ''}</td>
					<td>{a.leaf ? nameIn(FORMATS, a.format) : ''}</td>
					<td class="num">{a.ledger || ''}</td>
					<td class="doing">
						<TextButton onclick={() => changes.edit(a)}
							>change<span class="sr-only"> {a.name}</span></TextButton
						>
						{#if !a.holds}<TextButton onclick={() => changes.add(a)}
								>add under<span class="sr-only"> {a.name}</span></TextButton
							>{/if}
						{#if a.leaf && !a.holds}<TextButton onclick={() => void changes.take(a)}
								>remove<span class="sr-only"> {a.name}</span></TextButton
							>{/if}
					</td>
				</tr>
			{:else}
				<tr><td colspan="7" class="muted">No account fits.</td></tr>
			{/each}
			{#if shown.length > growing.most}<tr {@attach growing.end}
					><td colspan="7" class="muted">{shown.length - growing.most} more …</td></tr
				>{/if}
		</tbody>
	</Listing>
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
	td {
		padding-block: 3px;
	}
	.sum td:not(.doing) {
		font-weight: 600;
	}
	.code {
		font-family: var(--font-mono);
		font-size: 12px;
		line-height: 22px;
	}
	.sum td.code {
		font-weight: 400;
	}
</style>
