<script lang="ts">
	import { digits } from '$lib/ui/writing/count';
	import { useCompany } from '$lib/ui/shell/company';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { ApiError, post } from '$lib/ui/kit/api';
	import { addedUp } from '$lib/core/currency/amounts';
	import { amountsText } from '$lib/ui/writing/amounts';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Field from '$lib/ui/kit/form/Field.svelte';
	import Listing from '$lib/ui/kit/Listing.svelte';
	import Choice from '$lib/ui/kit/form/Choice.svelte';
	import Tick from '$lib/ui/kit/form/Tick.svelte';

	const { calendar } = useCompany();
	let { data } = $props();
	let text = $state('');
	let onlyUnmapped = $state(false);
	/** The row whose planning account is being chosen: a list in every row would be thousands of entries. */
	let choosing = $state('');
	const words = $derived(text.toLowerCase().split(/\s+/).filter(Boolean));
	const nameOf = (code: string | null) => data.planning.find((p) => p.code === code)?.name ?? '';
	const shown = $derived(
		data.rows.filter(
			(r) =>
				(!onlyUnmapped || r.account === null) &&
				words.every((w) =>
					`${r.code} ${r.name} ${r.account ?? ''} ${nameOf(r.account)}`.toLowerCase().includes(w)
				)
		)
	);
	const sum = (rows: typeof data.rows) =>
		amountsText(addedUp(rows.map((r) => r.amounts)), data.company.currency);
	const mapped = $derived(data.rows.filter((r) => r.account !== null));
	const unmapped = $derived(data.rows.filter((r) => r.account === null));

	async function mapTo(ledger: string, account: string | null) {
		try {
			await post('map', { ledger, account });
			await reread();
			notices.say(
				account === null
					? `${ledger} is no longer mapped.`
					: `${ledger} is now part of ${nameOf(account)}, in all ${calendar.words.many}.`
			);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'The map was not changed.', true);
			await reread();
		}
	}
</script>

<svelte:head><title>Account map · Yardstave</title></svelte:head>

<h1>Account map</h1>
<p class="muted">
	{data.rows.length} ledger accounts are folded into {new Set(mapped.map((r) => r.account)).size} planning accounts.
	Everything loaded, debit less credit: <b>{sum(data.rows)}</b> =
	<b>{sum(mapped)}</b>
	mapped +
	<b class:odd={unmapped.length > 0}>{sum(unmapped)}</b> unmapped ({unmapped.length}).
</p>
<div class="tools">
	<Field placeholder="Find an account" bind:value={text} aria-label="Find an account" />
	<Tick bind:checked={onlyUnmapped}>only unmapped</Tick>
</div>
<div class="scroll">
	<Listing>
		<thead
			><tr
				><th>Ledger account</th><th class="num">Entries</th><th class="num">Debit less credit</th><th
					>Planning account</th
				><th></th></tr
			></thead
		>
		<tbody>
			{#each shown as row (row.code)}
				<tr>
					<td><b>{row.code}</b> {row.name}</td>
					<td class="num">{digits(row.entries)}</td>
					<td class="num">{amountsText(row.amounts, data.company.currency)}</td>
					<td>
						<!-- As wide whether all accounts are listed in it or the present one alone. -->
						<Choice
							style="width: 280px"
							value={row.account ?? ''}
							onpointerdown={() => (choosing = row.code)}
							onfocus={() => (choosing = row.code)}
							onpick={(v) => mapTo(row.code, v || null)}
							aria-label="Planning account for {row.code}"
						>
							<option value="">not mapped</option>
							{#each choosing === row.code ? data.planning : data.planning.filter((p) => p.code === row.account) as p (p.code)}
								<option value={p.code}>{p.code} {p.name}</option>
							{/each}
						</Choice>
					</td>
					<td>
						{#if row.suggestion}
							<Button quiet onclick={() => mapTo(row.code, row.suggestion!.account)}
								>Map to {nameOf(row.suggestion.account)}</Button
							>
						{/if}
					</td>
				</tr>
			{:else}
				<tr
					><td colspan="5" class="muted"
						>{data.rows.length
							? 'No ledger account fits.'
							: 'No ledger account is known yet. They come with the first file under Ledger feed.'}</td
					></tr
				>
			{/each}
		</tbody>
	</Listing>
</div>

<style>
	.tools {
		display: flex;
		gap: 16px;
		align-items: center;
		margin: 10px 0;
	}
	.odd {
		color: var(--clay);
	}
	.scroll {
		overflow: auto;
		flex: 1;
		min-height: 0;
	}
	td {
		vertical-align: middle;
	}
</style>
