<script lang="ts">
	import { counted } from '$lib/ui/writing/count';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { onDestroy, untrack } from 'svelte';
	import { calendarOf } from '$lib/core/calendar/calendar-of';
	import { endOnto } from '$lib/core/calendar/onto';
	import type { AnyCalendarSpec } from '$lib/core/calendar/spec';
	import { LINES } from '$lib/core/views/arrangement';
	import type { Line } from '$lib/core/blocks/driver-model/schema';
	import type { FigureRef } from '$lib/core/explain/trace';
	import type { ModelFigures, ModelQuery, ViewRow } from '$lib/core/views/model-view';
	import ArrangeDialog from '$lib/ui/models/ArrangeDialog.svelte';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import EntryGrid from '$lib/ui/entry/EntryGrid.svelte';
	import { Entry } from '$lib/ui/entry/entry.svelte';
	import { readOutOfSight } from '$lib/ui/entry/rows-out-of-sight';
	import BesidePick from '$lib/ui/entry/BesidePick.svelte';
	import FormulaDialog from '$lib/ui/models/FormulaDialog.svelte';
	import { isMonth, nested } from '$lib/ui/grid/columns';
	import type { CellOf, GridColumn, GridRow } from '$lib/ui/grid/types';
	import { ModelCells } from '$lib/ui/models/cells.svelte';
	import { modelColumns, MONTH_WIDTH } from '$lib/ui/models/columns';
	import { cellKey, cellPlace } from '$lib/ui/entry/cell-key';
	import { gatherRows, shapeOfRows, type ModelSpread } from '$lib/ui/models/spreading';
	import { ApiError, post } from '$lib/ui/kit/api';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import MemberFilter from '$lib/ui/models/MemberFilter.svelte';
	import Proofs from '$lib/ui/models/Proofs.svelte';
	import { LivePreview } from '$lib/ui/models/preview.svelte';
	import RowsDialog from '$lib/ui/models/design/RowsDialog.svelte';
	import SaveBar from '$lib/ui/entry/SaveBar.svelte';
	import { sheet } from '$lib/ui/figure/sheet.svelte';
	import { LANDING, landingIn, trail } from '$lib/ui/figure/trail.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Choice from '$lib/ui/kit/form/Choice.svelte';
	import Tick from '$lib/ui/kit/form/Tick.svelte';

	let { data } = $props();
	const company = useCompany();
	/** In whose periods the model is kept; the window is the company’s. */
	const calendar = $derived(calendarOf(data.model.calendar));
	const sent = $derived(JSON.parse(data.rows) as ViewRow[]);
	type Whole = ModelFigures & Pick<typeof data.model, 'dimensions'>;
	/** All rows, where only the first were sent with the page, or sent with figures. */
	let whole = $state.raw<{ of: unknown; address: string; figures: Whole } | null>(null);
	const complete = $derived(sent.length === data.rowsInAll && sent.every((r) => r.cells.length > 0));
	const figures = $derived(whole?.of === data.model ? whole.figures : null);
	/** After a save, rows further down show what they did until they are read anew. */
	const former = $derived(
		!figures && whole?.address === apiAddress(data.selection.scenario)
			? new Map(whole.figures.rows.map((r) => [r.key, r]))
			: null
	);
	const model = $derived({
		...data.model,
		rows: figures ? figures.rows : sent.map((r) => (r.cells.length ? r : (former?.get(r.key) ?? r))),
		dimensions: figures ? figures.dimensions : data.model.dimensions,
		errors: figures ? figures.errors : data.model.errors
	});
	/** Where the same figures of a scenario are read, arranged as the page's address says. */
	function apiAddress(scenario: string): string {
		const { from, to } = data.selection;
		const address = new URLSearchParams(page.url.searchParams);
		for (const k of ['department', 'fold', 'beside', 'as', ...LANDING]) address.delete(k);
		const { key } = company.calendar;
		for (const [k, v] of Object.entries({ scenario, from: key(from), to: key(to) })) address.set(k, v);
		return `models/${data.model.definition.code}?${address}`;
	}
	$effect(() => {
		const of = data.model;
		if (complete) return;
		const address = apiAddress(data.selection.scenario);
		return readOutOfSight<Whole>(
			address,
			(found) => {
				if (data.model === of) whole = { of, address, figures: found };
			},
			landingIn(page.url) !== null
		);
	});
	const definition = $derived(model.definition);
	const arrangement = $derived(model.arrangement);
	const selection = $derived(data.selection);
	const scenarioName = $derived(data.scenarios.find((s) => s.code === selection.scenario)?.name ?? '');
	const preview = new LivePreview();
	onDestroy(() => preview.close());
	// The saved figures are new with each load; what is typed is worked out on top of them.
	let version = 0;
	$effect(() => {
		void data.model;
		untrack(() => version++);
	});
	// As text first: when all rows have come, nothing else is looked at, and what is typed need not be worked out again.
	const queryText = $derived(
		JSON.stringify({
			model: definition.code,
			spans: model.spans,
			hideEmpty: data.hideEmpty,
			...arrangement
		})
	);
	const previewQuery = $derived(JSON.parse(queryText) as ModelQuery);
	$effect(() => {
		const { typed } = entry;
		const { scenario } = selection;
		const query = previewQuery;
		void data.model;
		untrack(() => preview.show({ scenario, version, query, calendar }, typed));
	});
	/** Rows that are other by what is typed and not saved, as soon as it is worked out. */
	const changed = $derived(new Map((preview.changes?.rows ?? []).map((r) => [r.key, r])));
	const errors = $derived(model.errors + (preview.changes?.moreErrors ?? 0));
	let editing = $state<Line | null>(null);
	let arranging = $state(false);
	let addingRows = $state(false);
	const mayDesign = $derived(data.may['change driver models']);
	const others = $derived(
		data.scenarios.filter((s) => s.code !== selection.scenario && s.kind !== 'actuals')
	);
	const entry: Entry<ModelFigures & { calendar: AnyCalendarSpec }, ModelSpread> = new Entry(company, {
		get block() {
			return definition.code;
		},
		get calendar() {
			return calendar;
		},
		get loaded() {
			return data.model;
		},
		get others() {
			return others;
		},
		pathOf: apiAddress,
		rowOf: ({ line, row }) => cellKey(line, row),
		placeOf: cellPlace,
		get scenario() {
			return selection.scenario;
		},
		after: (count) => `; everything that rests on ${count === 1 ? 'it' : 'them'} follows`,
		named({ line }) {
			const own = definition.lines.find((l) => l.code === line);
			return { name: own?.label ?? line, format: own?.format ?? 'number' };
		},
		get landing() {
			const landing = landingIn(page.url);
			return landing && savedRows.has(landing.row) ? landing : null;
		},
		async gather(chosen, typed) {
			const wanted = chosen.flatMap(({ row, column }) => {
				const show = layout.shows.get(column.key);
				const view = cells.row(row.key);
				return show && view?.targets[show.entry]
					? [{ view, entry: show.entry, span: cells.monthsOf(show) }]
					: [];
			});
			return wanted.length ? gatherRows(wanted, spreadPage(typed)) : null;
		},
		shapeOf: (spread, scenario) => shapeOfRows(spread, scenario, spreadPage(null))
	});
	const { edits, beside, saving } = entry;
	const { other, window } = $derived(entry);
	/** A model that is kept in other periods there has nothing to stand beside these. */
	const alike = $derived(!beside.data || calendarOf(beside.data.calendar) === calendar);
	const otherRows = $derived(beside.data && new Map(alike ? beside.data.rows.map((r) => [r.key, r]) : []));
	const layout = $derived(
		modelColumns({
			calendar,
			spans: entry.spans,
			read: model.spans,
			across: model.across,
			formulas: arrangement.rows.includes(LINES),
			beside: other ? { columns: entry.besideColumns(MONTH_WIDTH), own: scenarioName } : null
		})
	);
	const columns = $derived(layout.columns);
	const savedRows = $derived(new Map(model.rows.map((r) => [r.key, r])));
	const cells = new ModelCells({
		get model() {
			return model;
		},
		get calendar() {
			return calendar;
		},
		get layout() {
			return layout;
		},
		get saved() {
			return savedRows;
		},
		get changed() {
			return changed;
		},
		get other() {
			return (
				other && {
					name: other.name,
					last: endOnto(calendar, company.calendar, other.last),
					rows: otherRows,
					difference: beside.difference
				}
			);
		}
	});
	const cell: CellOf = (row, column) => cells.at(row, column);
	const rows: GridRow[] = $derived(
		nested(
			model.rows.map((row) => {
				const line = row.heads === null ? null : cells.line(row.heads);
				const posts = line !== null && definition.postings.some((p) => p.line === line.code);
				return {
					depth: row.depth,
					row: {
						key: row.key,
						label: row.label,
						note: line?.unit,
						kind: line ? (posts ? 'total' : 'leaf') : row.open === null ? 'part' : 'leaf',
						format: line?.format ?? 'number',
						toggle: row.open === null ? undefined : row.open ? 'open' : 'closed'
					} satisfies GridRow
				};
			})
		)
	);

	function show(change: Record<string, string>) {
		const url = new URL(location.href);
		for (const [k, v] of Object.entries(change)) {
			if (v) url.searchParams.set(k, v);
			else url.searchParams.delete(k);
		}
		void goto(url, { keepFocus: true, noScroll: true, replaceState: true });
	}
	const openOnes = $derived(arrangement.open);
	/** Longer than this an address names its opened rows by a mark (characters). */
	const LONGEST_OPEN = 3000;
	async function toggle(row: GridRow) {
		const open = openOnes.includes(row.key) ? openOnes.filter((o) => o !== row.key) : [...openOnes, row.key];
		const text = open.join(',');
		if (text.length <= LONGEST_OPEN) return show({ open: text });
		try {
			show({ open: (await post<{ open: string }>('opened-rows', { open })).open });
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'The row could not be opened.', true);
		}
	}
	function filter(key: string, value: string) {
		const where = { ...arrangement.where, [key]: value };
		show({
			where: Object.entries(where)
				.filter(([, v]) => v)
				.map(([k, v]) => `${k}:${encodeURIComponent(v)}`)
				.join(',')
		});
	}
	function arrange(wanted: { rows: string[]; across: string | null; lines: string[] }) {
		show({
			rows: wanted.rows.join(','),
			across: wanted.across ?? '',
			lines: wanted.lines.join(','),
			open: ''
		});
	}
	function withFigure(row: GridRow, column: GridColumn, act: (ref: FigureRef) => void) {
		const show = layout.shows.get(column.key);
		const view = cells.row(row.key);
		const target = show && view?.targets[show.entry];
		if (!show || !target) return;
		const span = cells.monthsOf(show);
		if (!isMonth(span) || target.row === null) {
			notices.say(
				`This is ${counted(view!.count, 'row')}${isMonth(span) ? '' : ` over ${span.to - span.from + 1} ${calendar.words.many}`} together. Open one ${calendar.words.one} of one row to see what it is made of.`
			);
			return;
		}
		act({ kind: 'line', model: definition.code, line: target.line, row: target.row, period: span.from });
	}
	const openFigure = (row: GridRow, column: GridColumn) =>
		withFigure(row, column, (ref) => sheet.open({ scenario: selection.scenario, ref }));
	const followFigure = (row: GridRow, column: GridColumn) =>
		withFigure(
			row,
			column,
			(ref) => void trail.follow(company, selection.scenario, ref, { row: row.key, month: column.key })
		);

	const spreadPage = (typed: number | null) => ({
		scenario: selection.scenario,
		calendar,
		model: { ...model, definition, arrangement },
		edit: (place: { line: string; row: string }, period: number) => entry.editAt(place, period),
		typed
	});
	function openFormula(row: GridRow) {
		const code = cells.row(row.key)?.heads;
		editing = code ? cells.line(code) : null;
	}
</script>

<svelte:head><title>{definition.name} · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>{definition.name}</h1>
		<p class="muted">
			<a class="plain" href={withSelection('/drivers', selection, company.calendar)}>All drivers</a> ·
			<a class="plain" href={withSelection(`/drivers/${definition.code}/design`, selection, company.calendar)}
				>Lines and formulas</a
			>{definition.calendar && ` · kept in ${calendar.words.many}`}{definition.description &&
				` · ${definition.description}`}
			{#if !model.editable}<b>{model.reason}</b>{/if}
		</p>
		{#if errors}<p class="errors">
				{counted(errors, 'cell holds', 'cells hold')} an error.
			</p>{/if}
	</div>
	{#if model.editable}<SaveBar {edits} saving={saving.busy} onsave={() => saving.save()} />{/if}
</div>
{#if model.dimensions.length || others.length}
	<div class="filters">
		{#each model.dimensions as d (d.code)}
			<label>
				{d.name}
				<MemberFilter
					members={d.members}
					value={arrangement.where[d.code] ?? ''}
					onchange={(code) => filter(d.code, code)}
					onmiss={(words) => notices.say(`No ${d.name.toLowerCase()} is called “${words}”.`)}
				/>
			</label>
			{#each d.attributes.filter((a) => a.values.length > 1 && a.values.length <= 40) as a (a.code)}
				{@const key = `${d.code}.${a.code}`}
				{#if arrangement.where[key] !== undefined}
					<label>
						{a.code}
						<Choice class="choice" value={arrangement.where[key]} onpick={(v) => filter(key, v)}>
							<option value="">all</option>
							{#each a.values as value (value)}<option {value}>{value}</option>{/each}
						</Choice>
					</label>
				{/if}
			{/each}
		{/each}
		{#if model.dimensions.length}<span class="muted">{counted(model.rowCount, 'row')}</span>{/if}
		{#if others.length}<BesidePick {beside} scenarios={others} />{/if}
		{#if other && !alike}<span class="muted">kept in other periods there</span>{/if}
		{#if model.dimensions.length}
			<span class="end">
				<Tick checked={data.hideEmpty} onpick={(on) => show({ empty: on ? 'hide' : '' })}>hide empty</Tick>
				<Button quiet onclick={() => (arranging = true)}>Arrange …</Button>
				{#if mayDesign}<Button quiet onclick={() => (addingRows = true)}>Add rows …</Button>{/if}
			</span>
		{/if}
	</div>
{/if}
{#if model.proofs.length}<Proofs proofs={model.proofs} lines={definition.lines} {calendar} />{/if}
<EntryGrid
	{entry}
	editable={model.editable}
	label={definition.name}
	head="Line"
	{columns}
	{rows}
	{cell}
	onenter={() => {
		if (model.editable && !edits.count)
			preview.warm({ scenario: selection.scenario, version, query: previewQuery, calendar });
	}}
	open={model.open}
	labelWidth={230}
	startsAtOpen={definition.dimensions.length > 0}
	onopen={openFigure}
	onfollow={followFigure}
	find={page.url.searchParams.get('find') ?? ''}
	onfind={(find) => show({ find })}
	onaction={openFormula}
	ontoggle={toggle}
>
	<p class="hint muted">
		Cells with a dotted line can be typed, totals with a dashed one too. <kbd>Enter</kbd> on a formula opens
		it{#if model.dimensions.length},
			<kbd>Alt</kbd> <kbd>→</kbd> unfolds a line{/if}.
		<kbd>Space</kbd> opens what a figure is made of.
		{#if preview.changes}<b class="slanted">Slanted figures</b> follow from what is not saved yet.{/if}
	</p>
</EntryGrid>
{#if arranging}
	<ArrangeDialog
		{arrangement}
		words={calendar.words}
		dimensions={model.dimensions}
		lines={definition.lines}
		onarrange={arrange}
		onfilter={filter}
		onclose={() => (arranging = false)}
	/>
{/if}
{#if addingRows}
	<RowsDialog
		model={definition}
		ondone={async (words) => {
			addingRows = false;
			await reread();
			notices.say(words);
		}}
		onclose={() => (addingRows = false)}
	/>
{/if}
{#if editing}
	<FormulaDialog
		scenario={selection.scenario}
		{scenarioName}
		{definition}
		{window}
		{calendar}
		line={editing}
		names={model.names}
		also={model.alsoUsedBy}
		editable={model.editable}
		reason={model.reason}
		onclose={() => (editing = null)}
	/>
{/if}

<style>
	.filters {
		display: flex;
		flex-wrap: wrap;
		white-space: nowrap;
		gap: 6px 16px;
		align-items: center;
		margin-bottom: 10px;
	}
	.filters label {
		display: flex;
		gap: 6px;
		align-items: center;
		color: var(--ink-2);
	}
	.end {
		display: flex;
		gap: 14px;
		align-items: center;
		margin-left: auto;
	}
	.errors {
		color: var(--clay);
		font-weight: 600;
	}
	.slanted {
		color: var(--plum);
		font-style: italic;
	}
</style>
