<script lang="ts">
	import { digits } from '../writing/count';
	import Button from '../kit/form/Button.svelte';
	import Input from '../kit/form/Input.svelte';
	import Textarea from '../kit/form/Textarea.svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { onMount, untrack } from 'svelte';
	import type { NumberFormat } from '../../core/company/schema';
	import { ApiError, get, post, remove, send } from '../kit/api';
	import { exact, moment, plain, readFigure } from '../writing/format';
	import { useCompany } from '../shell/company';
	import { notices } from '../kit/notices.svelte';
	import { sheet } from './sheet.svelte';
	import { reread } from '../kit/reread';
	import TextButton from '../kit/form/TextButton.svelte';
	import IconButton from '../kit/form/IconButton.svelte';
	import FileButton from '../kit/form/FileButton.svelte';

	/** Notes with answers, the items behind the figure, and attachments of one cell. */
	interface Props {
		scenario: string;
		cell: { block: string; line: string; row: string; period: number };
		format: NumberFormat;
		/** What was typed in the cell. */
		typed: number | null;
		/** It stands in a column of a row: items come to figures by month. */
		column: boolean;
		oncount: (count: number) => void;
	}
	let { scenario, cell, format, typed, column, oncount }: Props = $props();
	const { calendarOf } = useCompany();
	/** The cell as requests write it. */
	const place = $derived({ ...cell, period: calendarOf(cell.block, scenario).key(cell.period) });
	interface Note {
		id: number;
		answers: number | null;
		at: string;
		name: string;
		text: string;
		own: boolean;
	}
	interface Item {
		description: string;
		quantity: number | null;
		rate: number | null;
		amount: number;
	}
	interface Found {
		notes: Note[];
		items: Item[];
		attachments: { id: number; name: string; size: number; own: boolean }[];
		mayWrite: boolean;
	}
	let found = $state<Found | null>(null);
	let text = $state('');
	let answering = $state<number | null>(null);
	let busy = $state(false);
	let problem = $state('');
	interface Draft {
		description: string;
		quantity: string;
		rate: string;
		amount: string;
	}
	let drafts: Draft[] = $state([]);
	let editing = $state(false);

	onMount(load);
	async function load() {
		try {
			const query = new URLSearchParams({ scenario, ...cell, period: place.period });
			found = await get<Found>(`notes?${query}`);
			untrack(() => oncount(found!.notes.length + found!.items.length + found!.attachments.length));
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'The notes cannot be read.';
		}
	}
	async function act(work: Promise<unknown>, then?: () => void) {
		busy = true;
		problem = '';
		try {
			await work;
			then?.();
			await load();
			await reread();
			sheet.refresh();
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'This was not saved.';
		} finally {
			busy = false;
		}
	}
	const write = () =>
		act(post('notes', { scenario, cell: place, text, answers: answering }), () => {
			text = '';
			answering = null;
		});
	const attach = (file: File) => void act(send('notes/attachments', file, { scenario, cell: place }));
	const roots = $derived(found?.notes.filter((n) => n.answers === null) ?? []);
	const answersTo = (id: number) => found?.notes.filter((n) => n.answers === id) ?? [];
	/** Words with addresses as links; nothing else of a note is more than words. */
	const pieces = (words: string) =>
		words.split(/(https?:\/\/[^\s<>"]+)/).map((piece, i) => ({ piece, link: i % 2 === 1 }));

	const sum = $derived((found?.items ?? []).reduce((s, i) => s + i.amount, 0));
	function startItems() {
		drafts = (found?.items ?? []).map((i) => ({
			description: i.description,
			quantity: plain(i.quantity),
			rate: plain(i.rate),
			amount: plain(i.amount)
		}));
		if (!drafts.length) addDraft();
		editing = true;
	}
	const addDraft = () => (drafts = [...drafts, { description: '', quantity: '', rate: '', amount: '' }]);
	/** Quantity × rate gives the amount, to the cent. */
	function amountOf(d: Draft): number | null | undefined {
		const [q, r] = [readFigure(d.quantity, 'number'), readFigure(d.rate, 'number')];
		if (typeof q === 'number' && typeof r === 'number') return Math.round(q * r * 100) / 100;
		return readFigure(d.amount, 'number');
	}
	const multiplied = (d: Draft) => d.quantity.trim() !== '' && d.rate.trim() !== '';
	const draftSum = $derived(drafts.reduce((s, d) => s + (amountOf(d) ?? 0), 0));
	function saveItems() {
		const kept = drafts.filter((d) => d.description.trim() || amountOf(d));
		const items: Item[] = [];
		for (const [i, d] of kept.entries()) {
			const amount = amountOf(d);
			if (!d.description.trim() || typeof amount !== 'number') {
				problem = `Item ${i + 1} needs a description, and an amount or a quantity and a rate.`;
				return;
			}
			items.push({
				description: d.description.trim(),
				quantity: readFigure(d.quantity, 'number') ?? null,
				rate: readFigure(d.rate, 'number') ?? null,
				amount
			});
		}
		void act(post('notes/items', { scenario, cell: place, before: typed, items }), () => {
			editing = false;
			notices.say(
				items.length ? 'The items are saved, and the cell holds their sum.' : 'The items are gone.'
			);
		});
	}
</script>

{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
{#if found}
	<section>
		<h3>Notes</h3>
		{#each roots as n (n.id)}
			<article>
				{@render note(n)}
				{#each answersTo(n.id) as a (a.id)}<div class="answer">{@render note(a)}</div>{/each}
				{#if found.mayWrite}<TextButton class="text-xs" onclick={() => (answering = n.id)}>Answer</TextButton
					>{/if}
			</article>
		{:else}<p class="muted">Nothing is written here yet.</p>{/each}
		{#if found.mayWrite}
			<Textarea
				rows={2}
				aria-label={answering === null ? 'A note' : 'An answer'}
				placeholder={answering === null ? 'Why it is so, or a question' : 'Your answer'}
				bind:value={text}
			/>
			<div class="row">
				<Button disabled={busy || !text.trim()} onclick={write}
					>{answering === null ? 'Write' : 'Answer'}</Button
				>
				{#if answering !== null}<TextButton class="text-xs" onclick={() => (answering = null)}
						>not an answer</TextButton
					>{/if}
			</div>
		{/if}
	</section>
	{#if !column}
		<section>
			<h3>
				Items {#if found.items.length && !editing}<small>together {exact(sum, format)}</small>{/if}
			</h3>
			{#if editing}
				{#each drafts as d, i (i)}
					<div class="item">
						<Input
							class="py-1"
							placeholder="What"
							aria-label="Description of item {i + 1}"
							bind:value={d.description}
						/>
						<div class="numbers">
							<Input
								class="py-1"
								placeholder="Quantity"
								aria-label="Quantity of item {i + 1}"
								bind:value={d.quantity}
							/>
							<span>×</span>
							<Input class="py-1" placeholder="Rate" aria-label="Rate of item {i + 1}" bind:value={d.rate} />
							<span>=</span>
							{#if multiplied(d)}<b>{exact(amountOf(d) ?? null, 'money')}</b>
							{:else}<Input
									class="py-1"
									placeholder="Amount"
									aria-label="Amount of item {i + 1}"
									bind:value={d.amount}
								/>{/if}
							<IconButton
								label="Take item {i + 1} out"
								onclick={() => (drafts = drafts.filter((_, j) => j !== i))}
								><TrashBinOutline class="h-4 w-4" /></IconButton
							>
						</div>
					</div>
				{/each}
				<p class="sum">Together <b>{exact(draftSum, 'money')}</b></p>
				<div class="row">
					<Button disabled={busy} onclick={saveItems}>Save items</Button>
					<Button quiet onclick={addDraft}>Add an item</Button>
					<TextButton class="text-xs" onclick={() => (editing = false)}>Cancel</TextButton>
				</div>
			{:else}
				<ul>
					{#each found.items as i, n (n)}
						<li>
							<span
								>{i.description}{#if i.quantity !== null && i.rate !== null}<small
										>{exact(i.quantity, 'number')} × {exact(i.rate, 'number')}</small
									>{/if}</span
							><b>{exact(i.amount, 'money')}</b>
						</li>
					{/each}
				</ul>
				{#if found.items.length && typed !== null && Math.abs(sum - typed) > 0.005}
					<p class="attention">The cell holds {exact(typed, format)}; it was typed over since.</p>
				{/if}
				{#if found.mayWrite}<Button quiet onclick={startItems}
						>{found.items.length ? 'Change items' : 'Make it up of items'}</Button
					>{/if}
			{/if}
		</section>
	{/if}
	<section>
		<h3>Attachments</h3>
		<ul>
			{#each found.attachments as a (a.id)}
				<li>
					<a class="plain" href="/api/v1/notes/attachments/{a.id}" download={a.name}>{a.name}</a>
					<span class="muted"
						>{digits(Math.max(1, Math.round(a.size / 1000)))} kB
						{#if a.own}<IconButton
								label="Take {a.name} away"
								onclick={() => act(remove(`notes/attachments/${a.id}`))}
								><TrashBinOutline class="inline h-4 w-4" /></IconButton
							>{/if}</span
					>
				</li>
			{/each}
		</ul>
		{#if found.mayWrite}<FileButton label="Attach a file" onfile={attach} />{/if}
	</section>
{/if}

{#snippet note(n: Note)}
	<p class="who">
		<b>{n.name}</b> <span class="muted">{moment(n.at)}</span>
		{#if n.own}<IconButton label="Take this note away" onclick={() => act(remove(`notes/${n.id}`))}
				><TrashBinOutline class="h-4 w-4" /></IconButton
			>{/if}
	</p>
	<p class="text">
		{#each pieces(n.text) as { piece, link }, i (i)}{#if link}<a
					class="plain"
					href={piece}
					target="_blank"
					rel="noopener noreferrer">{piece}</a
				>{:else}{piece}{/if}{/each}
	</p>
{/snippet}

<style>
	section {
		margin-bottom: 18px;
	}
	h3 {
		font-weight: 600;
		margin: 6px 0 4px;
	}
	h3 small,
	li small {
		font-weight: 400;
		color: var(--ink-2);
		font-size: 11.5px;
	}
	li small {
		display: block;
	}
	article {
		border-bottom: 1px solid var(--rule);
		padding: 4px 0 6px;
		margin-bottom: 6px;
	}
	.answer {
		border-left: 2px solid var(--rule-strong);
		padding-left: 8px;
		margin: 4px 0 4px 4px;
	}
	.who {
		display: flex;
		gap: 8px;
		align-items: center;
	}
	.who > :global(button) {
		margin-left: auto;
	}
	.text {
		white-space: pre-line;
		overflow-wrap: anywhere;
	}
	.row {
		display: flex;
		gap: 8px;
		align-items: center;
		margin-top: 6px;
	}
	.item {
		display: grid;
		gap: 4px;
		padding: 4px 0 8px;
		border-bottom: 1px solid var(--rule);
	}
	.numbers {
		display: flex;
		gap: 4px;
		align-items: center;
		font-variant-numeric: tabular-nums;
	}
	.sum {
		margin-top: 6px;
		text-align: right;
	}
	li {
		display: flex;
		justify-content: space-between;
		gap: 10px;
		padding: 3px 0;
		border-bottom: 1px solid var(--rule);
		font-variant-numeric: tabular-nums;
	}
	ul {
		margin-bottom: 6px;
	}
	.attention,
	.problem {
		color: var(--clay);
		margin-bottom: 6px;
	}
</style>
