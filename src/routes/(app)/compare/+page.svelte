<script lang="ts">
	import { counted } from '$lib/ui/writing/count';
	import { spanBefore } from '$lib/core/calendar/last-year';
	import ScenarioOptions from '$lib/ui/shell/ScenarioOptions.svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import { share } from '$lib/ui/writing/format';
	import Grid from '$lib/ui/grid/Grid.svelte';
	import type { CellOf, GridCell, GridColumn, GridRow } from '$lib/ui/grid/types';
	import { sheet } from '$lib/ui/figure/sheet.svelte';
	import { layOut } from '$lib/ui/entry/statement';
	import Field from '$lib/ui/kit/form/Field.svelte';
	import Choice from '$lib/ui/kit/form/Choice.svelte';
	import Tick from '$lib/ui/kit/form/Tick.svelte';
	import Segments from '$lib/ui/kit/Segments.svelte';

	let { data } = $props();
	const { calendar } = useCompany();
	const report = $derived(data.report);
	const folded = new SvelteSet<string>();
	const unfolded = new SvelteSet<string>();
	let onlyMarked = $state(false);

	type Row = NonNullable<typeof report>['rows'][number];
	type Figures = Pick<
		Row,
		'a' | 'b' | 'difference' | 'percent' | 'verdict' | 'marked' | 'currency' | 'performance'
	>;

	const columns: GridColumn[] = $derived(
		report
			? [
					{ key: 'a', label: report.scenarioName, width: 104, kind: 'figure' },
					{ key: 'b', label: report.againstName, width: 104, kind: 'figure' },
					{ key: 'difference', label: 'Difference', width: 96, kind: 'figure', apart: true },
					...(report.splits
						? [
								{ key: 'currency', label: 'Currency', width: 84, kind: 'figure' as const },
								{ key: 'performance', label: 'Performance', width: 96, kind: 'figure' as const }
							]
						: []),
					{ key: 'percent', label: '%', width: 76, kind: 'text', align: 'right' },
					{ key: 'bar', label: '', width: 100, kind: 'bar', grows: true },
					{ key: 'verdict', label: 'Verdict', width: 102, kind: 'text' }
				]
			: []
	);
	/** The longest bar is the largest difference of an account. */
	const widest = $derived(
		Math.max(
			1,
			...(report?.rows ?? [])
				.filter((r) => r.leaf && r.type !== 'statistical')
				.map((r) => (typeof r.difference === 'number' ? Math.abs(r.difference) : 0))
		)
	);
	function cellsOf(f: Figures): Record<string, GridCell> {
		const tone =
			!f.marked || f.verdict === 'neutral'
				? undefined
				: f.verdict === 'favourable'
					? ('good' as const)
					: ('bad' as const);
		return {
			a: { value: f.a },
			b: { value: f.b },
			difference: { value: f.difference, tone },
			currency: { value: f.currency ?? null },
			performance: { value: f.performance ?? null },
			percent: { value: null, text: f.difference === null ? '' : share(f.percent), tone },
			bar: {
				value: typeof f.difference === 'number' ? f.difference / widest : null,
				tone: f.verdict === 'neutral' ? undefined : f.verdict === 'favourable' ? 'good' : 'bad'
			},
			verdict: { value: null, text: f.verdict === 'neutral' ? '' : f.verdict, tone }
		};
	}
	const anything = $derived(report?.rows.some((r) => r.a !== null || r.b !== null) ?? false);
	type Placed = { row: GridRow; cells: Record<string, GridCell> };
	const placed: Placed[] = $derived.by(() => {
		if (!report) return [];
		const shown = (r: Row) => (onlyMarked ? r.marked : r.a !== null || r.b !== null);
		return layOut(report.rows, folded, shown).flatMap(({ item, kind, depth, folded: isFolded }): Placed[] => {
			const parts = item.leaf ? item.departments : [];
			const isOpen = unfolded.has(item.account);
			const row: GridRow = {
				key: kind === 'heading' ? `heading:${item.account}` : item.account,
				label: item.name,
				indent: depth,
				kind,
				format: item.format,
				toggle:
					kind === 'heading'
						? 'open'
						: isFolded
							? 'closed'
							: parts.length
								? isOpen
									? 'open'
									: 'closed'
								: undefined,
				mark: kind !== 'heading' && item.marked ? 'over the threshold' : undefined
			};
			const own = { row, cells: kind === 'heading' ? {} : cellsOf(item) };
			if (!isOpen || !item.leaf) return [own];
			return [
				own,
				...parts.map((d): Placed => ({
					row: {
						key: `${item.account}@${d.department}`,
						label: d.name,
						indent: depth + 1,
						kind: 'part',
						format: item.format,
						mark: d.marked ? 'over the threshold' : undefined
					},
					cells: cellsOf(d)
				}))
			];
		});
	});
	const rows = $derived(placed.map((p) => p.row));
	const cells = $derived(new Map(placed.map((p) => [p.row.key, p.cells])));
	const cell: CellOf = (row, column) => cells.get(row.key)?.[column.key];
	function toggle(row: GridRow) {
		const account = row.key.replace(/^heading:/, '');
		const set = row.kind === 'leaf' ? unfolded : folded;
		if (set.has(account)) set.delete(account);
		else set.add(account);
	}
	function openFigure(row: GridRow, column: GridColumn) {
		if (!report || row.kind === 'heading') return;
		const [account, department] = row.key.split('@');
		const base = column.key === 'b';
		const lastYear = base && report.query.against === 'last-year';
		sheet.open({
			scenario: base && !lastYear ? report.query.against : report.query.scenario,
			ref: {
				kind: 'account',
				account,
				department: department ?? report.query.department,
				...(lastYear ? spanBefore(calendar, report) : { from: report.from, to: report.to }),
				money: report.money
			}
		});
	}
	function choose(change: Record<string, string>) {
		const url = new URL(page.url);
		const q = report!.query;
		url.searchParams.set('scenario', q.scenario);
		url.searchParams.set('department', q.department);
		for (const [k, v] of Object.entries(change)) url.searchParams.set(k, v);
		void goto(url, { keepFocus: true, noScroll: true });
	}
	const months = $derived.by(() => {
		const s = data.scenarios.find((x) => x.code === report?.query.scenario);
		if (!s) return [];
		return Array.from({ length: s.last - s.first + 1 }, (_, i) => s.last - i);
	});
	const exportTo = (format: string) => {
		const q = report!.query;
		const parameters = new URLSearchParams({
			scenario: q.scenario,
			against: q.against,
			department: q.department,
			period: calendar.key(q.period),
			span: q.span,
			leap: q.leap ?? 'with',
			amount: String(q.threshold.amount),
			percent: String(q.threshold.percent),
			...(report!.money === 'reporting' ? { money: 'reporting' } : {}),
			format
		});
		return `/api/v1/variance?${parameters}`;
	};
	const span = $derived(
		report
			? report.from === report.to
				? calendar.longLabel(report.from)
				: `${calendar.longLabel(report.from)} – ${calendar.longLabel(report.to)}`
			: ''
	);
	const SPANS = [
		['month', calendar.words.One],
		['ytd', 'Year to date'],
		['year', 'Full year']
	] as const;
</script>

<svelte:head><title>Variance · Yardstave</title></svelte:head>

{#if !report}
	<h1>Variance</h1>
	<p class="muted">
		There is nothing to compare yet. Load a ledger file under Set up, or a company with scenarios.
	</p>
{:else}
	<div class="top">
		<div>
			<h1>Variance: {report.departmentName}, {span}</h1>
			<p class="muted">
				{report.currency ?? 'Each in its own currency: amounts in several have no sum'}{data.figures ===
				'thousand'
					? ', thousands'
					: ''} ·
				<b>{report.scenarioName}</b>
				against
				<b>{report.againstName}</b> · {counted(report.marked, 'account is', 'accounts are')} over the threshold
			</p>
		</div>
		<div class="actions">
			<Button quiet href={exportTo('xlsx')} download>Download XLSX</Button>
			<Button quiet href={exportTo('csv')} download>CSV</Button>
		</div>
	</div>
	<div class="controls">
		<label
			>Against
			<Choice
				class="choice"
				style="max-width: 170px"
				value={report.query.against}
				onpick={(v) => choose({ against: v })}
			>
				<option value="last-year">Last year</option>
				<ScenarioOptions scenarios={data.scenarios.filter((s) => s.code !== report.query.scenario)} />
			</Choice>
		</label>
		<label
			>for
			<Choice
				class="choice"
				style="max-width: 170px"
				value={calendar.key(report.query.period)}
				onpick={(v) => choose({ period: v })}
			>
				{#each months as m (m)}<option value={calendar.key(m)}>{calendar.label(m)}</option>{/each}
			</Choice>
		</label>
		<Segments
			label="Span"
			choices={SPANS.map(([key, name]) => ({ key, name }))}
			chosen={report.query.span}
			onchoose={(span) => choose({ span })}
		/>
		{#if report.hasLeap}<Tick
				checked={report.query.leap === 'without'}
				onpick={(on) => choose({ leap: on ? 'without' : 'with' })}>without the 53rd week</Tick
			>{/if}
		<label
			>Mark from
			<Field
				inputmode="numeric"
				class="choice num"
				characters={7}
				value={report.query.threshold.amount}
				onchange={(e) => choose({ amount: e.currentTarget.value.replaceAll(',', '') })}
				aria-label="Threshold amount"
			/>
		</label>
		<label
			>and
			<Field
				inputmode="decimal"
				class="choice num"
				characters={4}
				value={Number((report.query.threshold.percent * 100).toPrecision(6))}
				onchange={(e) => choose({ percent: String(Number(e.currentTarget.value) / 100) })}
				aria-label="Threshold percent"
			/> %
		</label>
		<Tick bind:checked={onlyMarked}>only marked</Tick>
	</div>
	{#if report.missing.length}<p class="missing">
			Exchange rates are missing: {report.missing.join('; ')}.
			{#if data.may['set exchange rates']}<a
					class="plain"
					href={withSelection('/setup/currencies', data.selection, calendar)}>Set them</a
				>{/if}
		</p>{/if}
	{#if !rows.length}
		<p class="empty">
			{#if onlyMarked && anything}No account is over the threshold.{:else}Nothing stands in {report.scenarioName}
				or
				{report.againstName} for {report.departmentName} in {span}. Choose another {calendar.words.one} above, type
				<a class="plain" href={withSelection('/plan', data.selection, calendar)}>a plan</a
				>{#if data.may['run feeds']}, or load <a
						class="plain"
						href={withSelection('/setup/feed', data.selection, calendar)}
						>a {calendar.words.one} of the ledger</a
					>{/if}.{/if}
		</p>
	{/if}
	<Grid
		label="Variance report"
		head="Account"
		{columns}
		{rows}
		{cell}
		{calendar}
		open={report.to + 1}
		figures={data.figures}
		labelWidth={222}
		opensOnClick
		onopen={openFigure}
		ontoggle={toggle}
	/>
	<p class="hint muted">
		Click a figure, or press <kbd>Space</kbd>, to see what it is made of. A clay corner marks what is over the
		threshold.
	</p>
{/if}

<style>
	.empty {
		margin: 4px 0 10px;
	}
	.missing {
		color: var(--clay);
		margin: 4px 0;
	}
	.controls {
		display: flex;
		flex-wrap: wrap;
		gap: 12px;
		align-items: center;
		margin: 10px 0;
		font-size: 13px;
	}
	.controls label {
		display: flex;
		align-items: center;
		gap: 6px;
		color: var(--ink-2);
	}
</style>
