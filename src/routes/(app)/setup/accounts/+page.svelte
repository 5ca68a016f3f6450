<script lang="ts">
	import { tick } from 'svelte';
	import type { Account } from '$lib/core/company/schema';
	import type { ChartRow, MovedFigures } from '$lib/core/views/chart-row';
	import { ApiError, patch, post, remove } from '$lib/ui/kit/api';
	import Dialog from '$lib/ui/kit/Dialog.svelte';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import ListPage from '$lib/ui/kit/ListPage.svelte';
	import Listing from '$lib/ui/kit/Listing.svelte';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import AccountDialog from '$lib/ui/setup/AccountDialog.svelte';
	import { FORMATS, nameIn, ROLLUPS, TYPES } from '$lib/ui/setup/account-words';
	import AddAccounts from '$lib/ui/setup/AddAccounts.svelte';
	import { stepOf } from '$lib/ui/setup/steps';
	import { counted } from '$lib/ui/writing/count';
	import { exact } from '$lib/ui/writing/format';

	let { data } = $props();
	type Change = Partial<ChartRow> & { before?: string | null };
	let text = $state('');
	let adding = $state.raw<{ heading: ChartRow | null } | null>(null);
	let editing = $state.raw<ChartRow | null>(null);
	let problem = $state('');
	/** A change that moves figures is asked for once more. */
	let asking = $state.raw<{ account: ChartRow; change: Change; moved: MovedFigures[] } | null>(null);

	const by = $derived(new Map(data.accounts.map((a) => [a.code, a])));
	const words = $derived(text.toLowerCase().split(/\s+/).filter(Boolean));
	const shown = $derived(
		data.accounts.filter((a) => {
			const all = `${a.name} ${a.code} ${nameIn(TYPES, a.type)}`.toLowerCase();
			return words.every((w) => all.includes(w));
		})
	);
	const headings = $derived(data.accounts.filter((a) => !a.leaf));
	/** Not under itself. */
	const headingsFor = (account: ChartRow) =>
		headings.filter((h) => {
			for (let a: ChartRow | undefined = h; a; a = a.parent === null ? undefined : by.get(a.parent))
				if (a.code === account.code) return false;
			return true;
		});
	const nameOf = (code: string | null) => (code === null ? 'the top' : (by.get(code)?.name ?? code));
	const path = (code: string) => `accounts/${encodeURIComponent(code)}`;
	const said = (e: unknown) => (e instanceof ApiError ? e.message : 'It was not changed.');

	/** What it was before, for taking the change back. */
	const before = (account: ChartRow, change: Change): Change => {
		const siblings = data.accounts.filter((a) => a.parent === account.parent);
		const next = siblings[siblings.findIndex((a) => a.code === account.code) + 1];
		const place = 'parent' in change || 'before' in change;
		return {
			...Object.fromEntries(Object.keys(change).map((key) => [key, account[key as keyof ChartRow]])),
			...(place ? { parent: account.parent, before: next?.code ?? null } : {})
		};
	};
	/** Changes an account; where figures would move, it is asked before. */
	async function change(account: ChartRow, wanted: Change, sure = false) {
		if (!Object.keys(wanted).length) return void (editing = null);
		const counts = ['parent', 'type', 'rollup'].some(
			(key) => key in wanted && wanted[key as keyof Change] !== account[key as keyof ChartRow]
		);
		try {
			if (counts && !sure) {
				const { moved } = await patch<{ moved: MovedFigures[] }>(path(account.code), {
					...wanted,
					dry: true
				});
				if (moved.length) {
					editing = null;
					asking = { account, change: wanted, moved };
					return;
				}
			}
			const undo = before(account, wanted);
			await patch(path(account.code), wanted);
			[editing, asking, problem] = [null, null, ''];
			await reread();
			notices.say(`${wanted.name ?? account.name} is changed, in all scenarios.`, false, {
				label: 'Undo',
				run: () => void act(() => patch(path(account.code), undo), `${account.name} is as it was.`)
			});
		} catch (e) {
			asking = null;
			if (editing) problem = said(e);
			else notices.say(said(e), true);
		}
	}
	async function act(work: () => Promise<unknown>, words: string) {
		try {
			await work();
			await reread();
			notices.say(words);
		} catch (e) {
			notices.say(said(e), true);
		}
	}
	async function added(made: Account[]) {
		adding = null;
		await reread();
		notices.say(
			made.length === 1 ? `${made[0].name} is added.` : `${counted(made.length, 'account')} are added.`,
			false,
			{
				label: 'Undo',
				run: () =>
					void act(
						async () => {
							// Those underneath first.
							for (const a of made.toReversed()) await remove(path(a.code));
						},
						made.length === 1 ? `${made[0].name} is gone again.` : 'They are gone again.'
					)
			}
		);
	}
	async function take(account: ChartRow) {
		const { parent, before: next } = before(account, { parent: null });
		try {
			await remove(path(account.code));
			await reread();
			notices.say(`${account.name} is removed.`, false, {
				label: 'Undo',
				run: () =>
					void act(async () => {
						const { name, code, type, rollup, format, nonCash } = account;
						const [made] = await post<Account[]>('accounts', { parent, outline: `${code} ${name}`, type });
						await patch(path(made.code), { rollup, format, nonCash, before: next });
					}, `${account.name} is there again.`)
			});
		} catch (e) {
			notices.say(said(e), true);
		}
	}
	/** Alt with an arrow moves the account whose row has the focus. */
	async function onkeydown(event: KeyboardEvent, account: ChartRow) {
		if (!event.altKey || words.length) return;
		const to = stepOf(event.key, account.code, data.accounts);
		if (!to) return;
		event.preventDefault();
		await change(account, to.parent === account.parent ? { before: to.before } : { ...to });
		await tick();
		document.querySelector<HTMLElement>(`[data-account="${CSS.escape(account.code)}"] button`)?.focus();
	}
</script>

<ListPage title="Accounts" find="Find an account" bind:text>
	{#snippet says()}{counted(data.accounts.filter((a) => a.leaf).length, 'account')} under {counted(
			headings.length,
			'heading'
		)}. Alt with an arrow key moves the one whose row you are in: up, down, under the one above, out of its
		heading.{/snippet}
	{#snippet action()}<Button onclick={() => (adding = { heading: null })}>Add at the top …</Button>{/snippet}
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
			{#each shown as a (a.code)}
				<tr class:sum={!a.leaf} data-account={a.code} onkeydown={(event) => void onkeydown(event, a)}>
					<td style:padding-left="{10 + a.depth * 16}px">{a.name}</td>
					<td class="code">{a.code}</td>
					<td>{nameIn(TYPES, a.type)}{a.nonCash ? ', never paid' : ''}</td>
					<td>{a.leaf ? nameIn(ROLLUPS, a.rollup) : ''}</td>
					<td>{a.leaf ? nameIn(FORMATS, a.format) : ''}</td>
					<td class="num">{a.ledger || ''}</td>
					<td class="doing">
						<TextButton
							onclick={() => {
								problem = '';
								editing = a;
							}}>change<span class="sr-only"> {a.name}</span></TextButton
						>
						{#if !a.ledger}<TextButton onclick={() => (adding = { heading: a })}
								>add under<span class="sr-only"> {a.name}</span></TextButton
							>{/if}
						{#if a.leaf && !a.ledger}<TextButton onclick={() => take(a)}
								>remove<span class="sr-only"> {a.name}</span></TextButton
							>{/if}
					</td>
				</tr>
			{:else}
				<tr><td colspan="7" class="muted">No account fits.</td></tr>
			{/each}
		</tbody>
	</Listing>
</ListPage>
{#if editing}
	<AccountDialog
		account={editing}
		headings={headingsFor(editing)}
		{problem}
		onchange={(wanted) => void change(editing!, wanted)}
		onclose={() => (editing = null)}
	/>
{/if}
{#if adding}
	<AddAccounts heading={adding.heading} ondone={added} onclose={() => (adding = null)} />
{/if}
{#if asking}
	<Dialog
		title="Change {asking.account.name}?"
		action="Change"
		onaction={() => void change(asking!.account, asking!.change, true)}
		onclose={() => (asking = null)}
	>
		<p>
			{#if 'parent' in asking.change && asking.change.parent !== asking.account.parent}It goes from “{nameOf(
					asking.account.parent
				)}” to “{nameOf(asking.change.parent ?? null)}”, and its figures with it:{:else}Totals that hold it
				change, for it has figures:{/if}
		</p>
		<ul>
			{#each asking.moved as m (m.scenario)}<li>
					<span>{m.scenario}</span><span class="num">{exact(m.amount, asking.account.format)}</span>
				</li>{/each}
		</ul>
	</Dialog>
{/if}

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
	li {
		display: flex;
		justify-content: space-between;
		border-bottom: 1px solid var(--rule);
		padding: 3px 0;
	}
</style>
