<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { missingText, Rate, RATE_KINDS, type RateKind } from '$lib/core/currency/rates';
	import SaveBar from '$lib/ui/entry/SaveBar.svelte';
	import { EditBatch } from '$lib/ui/grid/editing/edits.svelte';
	import Grid from '$lib/ui/grid/Grid.svelte';
	import type { CellOf, GridColumn, GridRow } from '$lib/ui/grid/types';
	import { ApiError, patch, post, remove } from '$lib/ui/kit/api';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Segments from '$lib/ui/kit/Segments.svelte';
	import LoadRates from '$lib/ui/setup/LoadRates.svelte';
	import NameRates from '$lib/ui/setup/NameRates.svelte';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import { counted } from '$lib/ui/writing/count';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const edits = new EditBatch();
	let saving = $state(false);
	let loading = $state(false);
	let naming = $state.raw<{ renames: boolean } | null>(null);

	const set = $derived(data.sets.find((s) => s.code === page.url.searchParams.get('set')) ?? data.sets[0]);
	const reporting = $derived(data.company.currency);
	const entities = $derived(data.foreign.join(' and '));
	const KIND_NAMES: Record<RateKind, string> = { average: 'average', closing: 'last day' };
	const columns: GridColumn[] = $derived(
		Array.from({ length: data.selection.to - data.selection.from + 1 }, (_, i) => {
			const period = data.selection.from + i;
			return {
				key: calendar.key(period),
				label: calendar.label(period),
				width: 78,
				kind: 'figure' as const,
				span: { from: period, to: period }
			};
		})
	);
	const BETWEEN = '/';
	const rows: GridRow[] = $derived(
		(set?.currencies ?? []).flatMap(({ currency }) =>
			RATE_KINDS.map((kind): GridRow => ({
				key: `${currency}${BETWEEN}${kind}`,
				label: `${currency}, ${KIND_NAMES[kind]}`,
				kind: 'leaf',
				format: 'price'
			}))
		)
	);
	const rateAt = (row: string, period: number): number | null => {
		const [currency, kind] = row.split(BETWEEN) as [string, RateKind];
		const run = set?.currencies.find((c) => c.currency === currency)?.[kind];
		return run?.values[period - run.first] ?? null;
	};
	const namesOf = (list: readonly { name: string }[]) => list.map((s) => s.name).join(' and ');
	/** Whose rates stay while they are locked. */
	const holding = $derived(set?.scenarios.filter((s) => s.locked && s.code !== 'actuals') ?? []);
	const lockedThrough = $derived(Math.max(...holding.map((s) => s.last)));
	const cell: CellOf = (row, column) => {
		const period = calendar.parse(column.key)!;
		const value = rateAt(row.key, period);
		return {
			value,
			typed: value,
			editable: value === null || period > lockedThrough,
			reason: `${namesOf(holding)} ${holding.length === 1 ? 'is' : 'are'} locked and translated by it: it stays.`
		};
	};

	function choose(code: string) {
		const url = new URL(page.url);
		url.searchParams.set('set', code);
		void goto(url, { keepFocus: true, noScroll: true });
	}
	async function act(work: Promise<unknown>, said: string, code?: string) {
		try {
			await work;
			naming = null;
			loading = false;
			await reread();
			if (code !== undefined) choose(code);
			notices.say(said);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'This was not saved.', true);
		}
	}
	async function save() {
		const wrong = edits.list.find((e) => e.value !== null && !Rate.safeParse(e.value).success);
		if (wrong) {
			const row = rows.find((r) => r.key === wrong.row)!;
			const period = calendar.label(calendar.parse(wrong.column)!);
			notices.say(`A rate is above 0; ${row.label} ${period} is not. Nothing was saved.`, true);
			return;
		}
		saving = true;
		try {
			const cells = edits.send().map(({ row, column, before, value }) => {
				const [currency, kind] = row.split(BETWEEN);
				return { currency, kind, period: column, before, value };
			});
			const { saved } = await post<{ saved: number }>(`rates/${set.code}/cells`, { cells });
			await reread();
			edits.saved();
			notices.say(`${counted(saved, 'rate')} saved. All that is translated by them follows.`);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'The rates were not saved.', true);
		} finally {
			saving = false;
		}
	}
	async function make(name: string, from: string | null) {
		const { code } = await post<{ code: string }>('rates', { name, from });
		await act(Promise.resolve(), `“${name}” is there. Scenarios choose it under Forecast.`, code);
	}
	async function rename(name: string) {
		await patch(`rates/${set.code}`, { name });
		await act(Promise.resolve(), `It is called “${name}” now.`);
	}
	/** Adds the account in which translation differences stand, under the first heading of equity. */
	async function addDifference() {
		const heading = data.equity;
		await act(
			(async () => {
				const [made] = await post<{ code: string }[]>('accounts', {
					parent: heading,
					outline: 'Translation difference',
					type: 'equity'
				});
				await patch(`accounts/${encodeURIComponent(made.code)}`, { translation: true });
			})(),
			'Translation differences stand in an account of their own now.'
		);
	}
</script>

<svelte:head><title>Currencies · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>Currencies</h1>
		<p class="muted">
			{#if !data.foreign.length}Every legal entity counts in {reporting}. One that counts in another currency
				is said under
				<a class="plain" href={withSelection('/setup/departments', data.selection, calendar)}>Departments</a>;
				its figures are translated to {reporting} by the rates that stand here.
			{:else}{entities}
				{data.foreign.length === 1 ? 'is' : 'are'} translated to {reporting}: income and cost at the average
				rate of each
				{calendar.words.one}, balances at the rate of its last day.{/if}
		</p>
	</div>
	<div class="actions">
		{#if set}<SaveBar {edits} {saving} onsave={save} />
			<Button quiet disabled={edits.count > 0} onclick={() => (loading = true)}>Paste or load …</Button>{/if}
		<Button quiet disabled={edits.count > 0} onclick={() => (naming = { renames: false })}>New set …</Button>
	</div>
</div>
{#if set}
	<div class="set">
		{#if data.sets.length > 1}
			<Segments
				label="Set of rates"
				choices={data.sets.map((s) => ({ key: s.code, name: s.name }))}
				chosen={set.code}
				onchoose={(code) => !edits.count && choose(code)}
			/>
		{:else}<b>{set.name}</b>{/if}
		<TextButton onclick={() => (naming = { renames: true })}>rename</TextButton>
		{#if !set.actuals}
			<TextButton
				onclick={() =>
					void act(
						patch(`rates/${set.code}`, { actuals: true }),
						`Actuals, and scenarios that choose no set, are translated by “${set.name}”.`
					)}>use for actuals</TextButton
			>
			<TextButton onclick={() => void act(remove(`rates/${set.code}`), `“${set.name}” is gone.`, '')}
				>remove</TextButton
			>
		{/if}
	</div>
	<p class="muted">
		{#if set.scenarios.length}Translated by it: {set.scenarios.map((s) => s.name).join(', ')}.{:else}Nothing
			is translated by it yet: a scenario chooses it under Forecast.{/if}
		{#if holding.length}{namesOf(holding)}
			{holding.length === 1 ? 'is' : 'are'} locked, so rates up to {calendar.label(lockedThrough)} stay.{/if}
	</p>
	{#if set.scenarios.length && data.foreign.length && !set.missing.length}
		<p class="muted">No rate is missing for what they show.</p>
	{/if}
	{#if set.missing.length}
		<p class="missing">Missing: {set.missing.map((m) => missingText(m, calendar)).join('; ')}.</p>
	{/if}
	{#if data.foreign.length && !data.translation}
		<p class="missing">
			The chart has no account for translation differences, so balance sheets in {reporting} do not balance.
			<TextButton onclick={() => void addDifference()}>Add one</TextButton>
		</p>
	{/if}
	{#if rows.length}
		<div class="rates">
			<Grid
				label="Exchange rates: {set.name}"
				head="{reporting} for one"
				{columns}
				{rows}
				{cell}
				{calendar}
				open={(data.closedThrough ?? -1) + 1}
				figures={data.figures}
				{edits}
				labelWidth={150}
				onsay={(m) => notices.say(m)}
			/>
		</div>
		<p class="hint muted">
			How much {reporting} one unit is worth. The window above says which {calendar.words.many} are shown; paste
			from a spreadsheet, or fill to the right.
		</p>
	{:else}<p class="muted">No currency needs a rate yet.</p>{/if}
{/if}
{#if loading}
	<LoadRates
		{set}
		{reporting}
		ondone={(count) => void act(Promise.resolve(), `${counted(count, 'line')} loaded into “${set.name}”.`)}
		onclose={() => (loading = false)}
	/>
{/if}
{#if naming}
	<NameRates
		set={naming.renames ? set : null}
		sets={data.sets}
		onkeep={naming.renames ? rename : make}
		onclose={() => (naming = null)}
	/>
{/if}

<style>
	.set {
		display: flex;
		gap: 14px;
		align-items: center;
		margin: 4px 0;
	}
	.missing {
		color: var(--clay);
		margin-top: 4px;
	}
	.rates {
		display: flex;
		flex-direction: column;
		flex: 1;
		min-height: 0;
		margin-top: 10px;
	}
</style>
