<script lang="ts">
	import { addedUp, type Amounts } from '$lib/core/currency/amounts';
	import type { MapRow, PlanningRow } from '$lib/core/views/map-row';
	import { ApiError, post, remove } from '$lib/ui/kit/api';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Field from '$lib/ui/kit/form/Field.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import Tick from '$lib/ui/kit/form/Tick.svelte';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import { Choosing } from '$lib/ui/map/choosing.svelte';
	import LedgerSide from '$lib/ui/map/LedgerSide.svelte';
	import NewPlanning from '$lib/ui/map/NewPlanning.svelte';
	import PlanningSide from '$lib/ui/map/PlanningSide.svelte';
	import { useCompany } from '$lib/ui/shell/company';
	import { amountsText } from '$lib/ui/writing/amounts';
	import { counted } from '$lib/ui/writing/count';

	const { calendar } = useCompany();
	let { data } = $props();
	let text = $state('');
	let planningText = $state('');
	let onlyUnmapped = $state(false);
	/** A planning account that alone is looked into. */
	let within = $state<string | null>(null);
	let dragging = $state(false);
	/** New accounts are being made: for which, under what to begin with. */
	let making = $state.raw<{ ledgers: readonly MapRow[]; heading: string | null; each: boolean } | null>(null);
	let side = $state<{ enter: () => void }>();

	const wordsIn = (t: string) => t.toLowerCase().split(/\s+/).filter(Boolean);
	const names = $derived(new Map(data.planning.map((p) => [p.code, p.name])));
	const nameOf = (code: string) => names.get(code) ?? code;
	const words = $derived(wordsIn(text));
	const shown = $derived(
		data.rows.filter(
			(r) =>
				(!onlyUnmapped || r.account === null) &&
				(within === null || r.account === within) &&
				words.every((w) =>
					`${r.code} ${r.name} ${r.account ?? ''} ${r.account === null ? '' : nameOf(r.account)}`
						.toLowerCase()
						.includes(w)
				)
		)
	);
	const choosing = new Choosing(() => shown.map((r) => r.code));
	const chosen = $derived(data.rows.filter((r) => choosing.chosen.has(r.code)));
	const planningWords = $derived(wordsIn(planningText));
	const planning = $derived.by(() => {
		if (!planningWords.length) return data.planning;
		const fits = (p: PlanningRow) =>
			planningWords.every((w) => `${p.code} ${p.name}`.toLowerCase().includes(w));
		// The headings of those found stand above them.
		const kept = new Set<string>();
		for (const p of data.planning)
			if (fits(p))
				for (let at: string | null = p.code; at !== null && !kept.has(at);) {
					kept.add(at);
					at = data.planning.find((q) => q.code === at)?.parent ?? null;
				}
		return data.planning.filter((p) => kept.has(p.code));
	});
	const unmapped = $derived(data.rows.filter((r) => r.account === null));
	const sum = (list: readonly { amounts: Amounts }[]) => addedUp(list.map((r) => r.amounts));
	const said = (amounts: Amounts) => amountsText(amounts, data.company.currency);
	const left = $derived(sum(data.rows));
	const right = $derived(addedUp([sum(data.planning), sum(unmapped)]));
	const even = $derived(
		Object.keys({ ...left, ...right }).every((c) => Math.abs((left[c] ?? 0) - (right[c] ?? 0)) < 0.005)
	);

	async function work(
		act: () => Promise<unknown>,
		words: string,
		undo?: () => Promise<unknown>,
		undone = ''
	) {
		try {
			await act();
			await reread();
			notices.say(
				words,
				false,
				undo && { label: 'Undo', run: () => void work(undo, undone || 'They are where they were.') }
			);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'The map was not changed.', true);
			await reread();
		}
	}
	const theirs = (rows: readonly MapRow[]) =>
		rows.length === 1 ? rows[0].code : counted(rows.length, 'ledger account');
	/** Puts each where it was. */
	async function back(rows: readonly MapRow[]) {
		for (const account of new Set(rows.map((r) => r.account)))
			await post('map', { ledgers: rows.filter((r) => r.account === account).map((r) => r.code), account });
	}
	async function fold(rows: readonly MapRow[], account: string | null) {
		const moving = rows.filter((r) => r.account !== account);
		if (!moving.length) return;
		const is = moving.length === 1 ? 'is' : 'are';
		await work(
			() => post('map', { ledgers: moving.map((r) => r.code), account }),
			account === null
				? `${theirs(moving)} ${is} no longer mapped.`
				: `${theirs(moving)} ${is} now part of ${nameOf(account)}, in all ${calendar.words.many}.`,
			() => back(moving),
			`${theirs(moving)} ${is} where ${moving.length === 1 ? 'it was' : 'they were'}.`
		);
	}
	function taken(row: PlanningRow) {
		dragging = false;
		if (!chosen.length) notices.say('Choose ledger accounts at the left first.', true);
		else if (row.leaf) {
			const rows = chosen;
			choosing.none();
			void fold(rows, row.code).then(comeBack);
		} else making = { ledgers: chosen, heading: row.code, each: false };
	}
	/** From the search down to what it found, or back. */
	function toTree(event: KeyboardEvent) {
		if (event.key === 'ArrowDown' || event.key === 'Enter') side?.enter();
		else if (event.key === 'Escape') comeBack();
		else return;
		event.preventDefault();
	}
	/** The focus goes to the ledger's side, where it was. */
	function comeBack() {
		const at = choosing.reached;
		if (at) document.querySelector<HTMLElement>(`[data-ledger="${CSS.escape(at)}"]`)?.focus();
	}
	function made(accounts: { code: string; name: string }[]) {
		const { ledgers } = making!;
		making = null;
		choosing.none();
		void work(
			async () => {},
			accounts.length === 1
				? `${accounts[0].name} is made, and takes in ${theirs(ledgers)}.`
				: `${counted(accounts.length, 'planning account')} are made, one for each ledger account.`,
			async () => {
				await back(ledgers);
				for (const { code } of accounts.toReversed()) await remove(`accounts/${encodeURIComponent(code)}`);
			},
			'They are gone again.'
		);
	}
</script>

<svelte:head><title>Account map · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>Account map</h1>
		<p class="muted">
			{#if data.rows.length}
				{counted(data.rows.length - unmapped.length, 'ledger account')} are folded into {data.planning.filter(
					(p) => p.folded
				).length} planning accounts{#if unmapped.length}; <b class="odd">{unmapped.length}</b>
					{unmapped.length === 1 ? 'is' : 'are'} in none, with {said(sum(unmapped))}{/if}. Drag accounts from
				left to right, or choose them and press Enter.
			{:else}What the ledger calls its accounts, and what they are planned as.{/if}
		</p>
	</div>
	{#if unmapped.length}
		<Button onclick={() => (making = { ledgers: unmapped, heading: null, each: unmapped.length > 1 })}
			>Make an account for {unmapped.length === 1 ? 'it' : `each of ${unmapped.length}`} …</Button
		>
	{/if}
</div>
<div class="sides">
	<section>
		<div class="tools">
			<Field placeholder="Find a ledger account" bind:value={text} aria-label="Find a ledger account" />
			<Tick bind:checked={onlyUnmapped}>only unmapped</Tick>
			{#if within !== null}<span class="within"
					>in {nameOf(within)} <TextButton onclick={() => (within = null)}>show all</TextButton></span
				>{/if}
		</div>
		<div class="scroll">
			<LedgerSide
				rows={shown}
				any={data.rows.length > 0}
				{choosing}
				currency={data.company.currency}
				{nameOf}
				onfold={() => document.getElementById('find-planning')?.focus()}
				ondrag={(now) => (dragging = now)}
				onsuggested={(row) => void fold([row], row.suggestion!.account)}
			/>
		</div>
		<p class="foot">
			<span>All ledger accounts</span><b>{said(left)}</b>
		</p>
	</section>
	<section class:dragging>
		<div class="tools">
			<Field
				id="find-planning"
				placeholder="Find a planning account"
				aria-label="Find a planning account"
				bind:value={planningText}
				onkeydown={toTree}
			/>
			{#if chosen.length}
				<span class="waiting">{theirs(chosen)} chosen</span>
				<Button quiet onclick={() => (making = { ledgers: chosen, heading: null, each: false })}
					>New account …</Button
				>
				{#if chosen.some((r) => r.account !== null)}<TextButton onclick={() => void fold(chosen, null)}
						>take out</TextButton
					>{/if}
			{/if}
		</div>
		<div class="scroll">
			<PlanningSide
				bind:this={side}
				rows={planning}
				currency={data.company.currency}
				waiting={chosen.length}
				{dragging}
				onfold={taken}
				onshow={(row) => {
					[text, onlyUnmapped, within] = ['', false, row.code];
				}}
				onleave={comeBack}
			/>
		</div>
		<p class="foot">
			<span>{unmapped.length ? 'Planned, and unmapped' : 'All planning accounts'}</span>
			<b class:odd={!even}>{said(right)}{even ? '' : ', which is not the same'}</b>
		</p>
	</section>
</div>
{#if making}
	<NewPlanning {...making} planning={data.planning} ondone={made} onclose={() => (making = null)} />
{/if}

<style>
	.top {
		display: flex;
		justify-content: space-between;
		align-items: start;
		gap: 16px;
	}
	.top > :global(button) {
		flex: none;
		white-space: nowrap;
	}
	.sides {
		display: grid;
		grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
		gap: 20px;
		flex: 1;
		min-height: 0;
		margin-top: 8px;
	}
	section {
		display: flex;
		flex-direction: column;
		min-height: 0;
	}
	.tools {
		display: flex;
		gap: 12px;
		align-items: center;
		min-height: 34px;
		margin-bottom: 6px;
		white-space: nowrap;
	}
	.within,
	.waiting {
		color: var(--ink-2);
		overflow: hidden;
		text-overflow: ellipsis;
	}
	.scroll {
		overflow: auto;
		flex: 1;
		min-height: 0;
	}
	.dragging .scroll {
		outline: 2px dashed var(--rule-strong);
		outline-offset: -2px;
	}
	.foot {
		display: flex;
		justify-content: space-between;
		gap: 12px;
		border-top: 1px solid var(--rule-strong);
		padding: 6px 10px 0;
		margin: 0;
	}
	.foot > * {
		white-space: nowrap;
	}
	.odd {
		color: var(--clay);
	}
</style>
