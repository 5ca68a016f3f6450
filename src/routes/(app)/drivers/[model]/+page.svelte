<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { onDestroy, untrack } from 'svelte';
	import type { Line } from '$lib/core/model/schema';
	import type { ModelFigures } from '$lib/core/plan/model-view';
	import { useCompany, withSelection } from '$lib/ui/company';
	import Conflicts from '$lib/ui/Conflicts.svelte';
	import { EditBatch } from '$lib/ui/edits.svelte';
	import { exact } from '$lib/ui/format';
	import FormulaDialog from '$lib/ui/FormulaDialog.svelte';
	import Grid from '$lib/ui/Grid.svelte';
	import type { GridCell, GridColumn, GridRow } from '$lib/ui/grid';
	import { ApiError, get } from '$lib/ui/api';
	import { notices } from '$lib/ui/notices.svelte';
	import { Saving } from '$lib/ui/saving.svelte';
	import Proofs from '$lib/ui/Proofs.svelte';
	import { LivePreview } from '$lib/ui/preview.svelte';
	import SaveBar from '$lib/ui/SaveBar.svelte';
	import { sheet } from '$lib/ui/sheet.svelte';
	import SpreadDialog from '$lib/ui/SpreadDialog.svelte';
	import { entryDecimals, type SpreadRow } from '$lib/ui/spread';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const model = $derived(data.model);
	const definition = $derived(model.definition);
	const selection = $derived(data.selection);
	const scenarioName = $derived(data.scenarios.find((s) => s.code === selection.scenario)?.name ?? '');
	const periods = $derived(
		Array.from({ length: selection.to - selection.from + 1 }, (_, i) => selection.from + i)
	);
	const AT = '@';
	const edits = new EditBatch();
	const preview = new LivePreview();
	onDestroy(() => preview.close());
	// The saved figures are new with each load; what is typed is worked out on top of them.
	let version = 0;
	$effect(() => {
		void data.model;
		untrack(() => version++);
	});
	$effect(() => {
		const typed = edits.list.map((e) => {
			const [line, row] = e.row.split(AT);
			return { line, row, period: calendar.parse(e.column)!, value: e.value };
		});
		const { scenario, from, to } = selection;
		const query = {
			model: definition.code,
			from,
			to,
			open: $state.snapshot(data.open),
			where: $state.snapshot(data.where)
		};
		void data.model;
		untrack(() => preview.show(scenario, version, typed, query));
	});
	/** What is shown: with what is typed and not saved, as soon as it is worked out. */
	const shown = $derived(preview.figures ?? model);
	let editing = $state<Line | null>(null);
	interface Spreading {
		title: string;
		typed: number | null;
		line: Line;
		rows: SpreadRow[];
		periods: number[];
	}
	let spreading = $state<Spreading | null>(null);

	const keyOf = (line: string, row: string) => `${line}${AT}${row}`;
	const columns: GridColumn[] = $derived([
		{ key: 'formula', label: 'Formula', width: 170, kind: 'text', frozen: true },
		...periods.map((p): GridColumn => ({
			key: calendar.key(p),
			label: calendar.shortLabel(p),
			width: 68,
			kind: 'figure',
			period: p
		})),
		{ key: 'total', label: 'Total', width: 88, kind: 'figure', apart: true }
	]);
	type Cells = readonly (number | null | string)[];
	/** Means of other weights may differ in their last digit and say the same. */
	const differs = (a: number | null | string, b: number | null | string) =>
		typeof a === 'number' && typeof b === 'number'
			? Math.abs(a - b) > 1e-12 * Math.max(Math.abs(a), Math.abs(b))
			: a !== b;
	/** `saved` is what stands there without what is typed. */
	const numbers = (cells: Cells, saved: Cells, editable: boolean): GridCell[] =>
		cells.map((value, i) => {
			const period = periods[i];
			const open = period >= model.open && period <= model.last;
			return {
				value,
				typed: typeof saved[i] === 'number' ? saved[i] : null,
				preview: differs(value, saved[i]),
				editable: editable && open && model.editable,
				title:
					editable && !model.editable
						? model.reason
						: period < model.open && value === null
							? 'Closed: drivers are not derived from actuals here.'
							: undefined
			};
		});
	const rows: GridRow[] = $derived(
		shown.lines.flatMap((l, at): GridRow[] => {
			const saved = model.lines[at];
			const typed = l.line.formula === undefined;
			const table = definition.dimensions.length === 0;
			const posts = definition.postings.some((p) => p.line === l.line.code);
			// A total can be typed where it is a sum of what can be typed.
			const { time, members } = l.line.rollup;
			const sums = typed && model.editable && !l.line.scoped?.length;
			const overRows = sums && members === 'sum' && !table;
			const overMonths = sums && time === 'sum' && selection.to >= model.open;
			const spreadsIn = (cells: GridCell[]) =>
				cells.map((cell, i) => ({
					...cell,
					spreads: overRows && periods[i] >= model.open && periods[i] <= model.last
				}));
			const head: GridRow = {
				key: table ? keyOf(l.line.code, '') : l.line.code,
				label: l.line.label,
				note: l.line.unit,
				depth: 0,
				kind: posts ? 'total' : 'leaf',
				format: l.line.format,
				toggle: table ? undefined : l.rows ? 'open' : 'closed',
				cells: [
					{
						value: null,
						text: typed ? 'typed' : l.line.formula,
						action: !typed,
						title: typed ? 'Typed in, month by month.' : `${l.line.formula}\nEnter opens it.`
					},
					...spreadsIn(numbers(l.cells, saved.cells, typed && table)),
					{
						value: l.total,
						preview: differs(l.total, saved.total),
						spreads: overMonths && (table || members === 'sum')
					}
				]
			};
			return [
				head,
				...(l.rows ?? []).map((r, i): GridRow => ({
					key: keyOf(l.line.code, r.key),
					label: r.name,
					depth: 1,
					kind: 'part',
					format: l.line.format,
					cells: [
						{ value: null, text: '' },
						...numbers(r.cells, saved.rows?.[i]?.cells ?? r.cells, typed),
						{
							value: r.total,
							preview: differs(r.total, saved.rows?.[i]?.total ?? r.total),
							spreads: overMonths
						}
					]
				}))
			];
		})
	);

	function show(change: Record<string, string>) {
		const url = new URL(page.url);
		for (const [k, v] of Object.entries(change)) {
			if (v) url.searchParams.set(k, v);
			else url.searchParams.delete(k);
		}
		void goto(url, { keepFocus: true, noScroll: true, replaceState: true });
	}
	function toggle(row: GridRow) {
		if (edits.count) {
			notices.say('Save or discard what is typed before rows are folded.');
			return;
		}
		const open = data.open.includes(row.key)
			? data.open.filter((o) => o !== row.key)
			: [...data.open, row.key];
		show({ open: open.join(',') });
	}
	function filter(dimension: string, member: string) {
		const where = { ...data.where, [dimension]: member };
		show({
			where: Object.entries(where)
				.filter(([, m]) => m)
				.map(([d, m]) => `${d}:${m}`)
				.join(',')
		});
	}
	function openFigure(row: GridRow, column: GridColumn) {
		if (column.period === undefined) return;
		if (!row.key.includes(AT)) {
			notices.say(`This is ${model.rowCount} rows together. Unfold the line to open one of them.`);
			return;
		}
		const [line, key] = row.key.split(AT);
		sheet.open({
			scenario: selection.scenario,
			ref: { kind: 'line', model: definition.code, line, row: key, period: column.period }
		});
	}
	type LineRows = { key: string; name: string; cells: (number | null | string)[] }[];
	/** A line's rows over some months, in this or another scenario. */
	async function rowsOf(line: string, scenario: string, from: number, to: number): Promise<LineRows> {
		const where = Object.entries(data.where).map(([d, m]) => `${d}:${m}`);
		const query = new URLSearchParams({
			scenario,
			from: calendar.key(from),
			to: calendar.key(to),
			open: line,
			where: where.join(',')
		});
		const found = await get<ModelFigures>(`models/${definition.code}?${query}`);
		const own = found.lines.find((l) => l.line.code === line)!;
		return own.rows ?? [{ key: '', name: own.line.label, cells: own.cells }];
	}
	/** A figure was typed into a total: its cells are gathered, and how it is spread is asked. */
	async function spreadTotal(row: GridRow, column: GridColumn, typed: number | null) {
		const [code, key] = row.key.split(AT);
		const line = definition.lines.find((l) => l.code === code)!;
		const months = column.period === undefined ? periods : [column.period];
		try {
			const all = await rowsOf(code, selection.scenario, months[0], months.at(-1)!);
			const rows = all
				.filter((r) => key === undefined || r.key === key)
				.map((r): SpreadRow => ({
					key: keyOf(code, r.key),
					name: r.name,
					cells: months.map((period, i) => {
						const cell = r.cells[i];
						const before = typeof cell === 'number' ? cell : null;
						const edit = edits.at(keyOf(code, r.key), calendar.key(period));
						return {
							column: calendar.key(period),
							label: calendar.shortLabel(period),
							value: edit ? edit.value : before,
							before,
							open: period >= model.open && period <= model.last
						};
					})
				}));
			const [first, last] = [months[0], months.at(-1)!].map((m) => calendar.label(m));
			const place = `, ${first}${first === last ? '' : ` – ${last}`}`;
			const name = key && rows[0] ? `${line.label}, ${rows[0].name}` : line.label;
			spreading = { title: `${name}${place}`, typed, line, rows, periods: months };
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'The rows could not be read.', true);
		}
	}
	async function shapeOf(scenario: string): Promise<(number | null)[][]> {
		const { line, rows, periods: months } = spreading!;
		const found = await rowsOf(line.code, scenario, months[0], months.at(-1)!);
		const by = new Map(found.map((r) => [keyOf(line.code, r.key), r.cells]));
		return rows.map((r) =>
			months.map((_, i) => {
				const cell = by.get(r.key)?.[i];
				return typeof cell === 'number' ? cell : null;
			})
		);
	}
	function openFormula(row: GridRow) {
		editing = definition.lines.find((l) => l.code === row.key.split(AT)[0]) ?? null;
	}
	const saving = new Saving({
		edits,
		path: () => `models/${definition.code}/cells`,
		request: (list) => ({
			scenario: selection.scenario,
			edits: list.map((e) => {
				const [line, row] = e.row.split(AT);
				return { line, row, period: calendar.parse(e.column), before: e.before, value: e.value };
			})
		}),
		cellOf: (c) => ({ row: keyOf(c.edit.line, c.edit.row), column: calendar.key(c.edit.period) }),
		view: (c) => {
			const line = definition.lines.find((l) => l.code === c.edit.line);
			const format = line?.format ?? 'number';
			return {
				name: `${line?.label}, ${calendar.label(c.edit.period)}`,
				mine: exact(c.edit.value, format),
				theirs: exact(c.theirs, format),
				user: c.user,
				at: c.at
			};
		},
		after: (count) => `; everything that rests on ${count === 1 ? 'it' : 'them'} follows`
	});
</script>

<svelte:head><title>{definition.name} · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>{definition.name}</h1>
		<p class="muted">
			<a class="plain" href={withSelection('/drivers', selection, calendar)}>All drivers</a
			>{definition.description && ` · ${definition.description}`}
			{#if !model.editable}<b>{model.reason}</b>{/if}
		</p>
		{#if shown.errors}<p class="errors">
				{shown.errors}
				{shown.errors === 1 ? 'cell holds' : 'cells hold'} an error.
			</p>{/if}
	</div>
	{#if model.editable}<SaveBar {edits} saving={saving.busy} onsave={() => saving.save()} />{/if}
</div>
{#if model.dimensions.length}
	<div class="filters">
		{#each model.dimensions as d (d.code)}
			<label>
				{d.name}
				<select value={data.where[d.code] ?? ''} onchange={(e) => filter(d.code, e.currentTarget.value)}>
					<option value="">all</option>
					{#each d.members as m (m.code)}<option value={m.code}
							>{'\u00a0\u00a0'.repeat(m.depth)}{m.name}</option
						>{/each}
				</select>
			</label>
		{/each}
		<span class="muted">{model.rowCount} rows</span>
	</div>
{/if}
{#if model.proofs.length}<Proofs proofs={model.proofs} lines={definition.lines} {calendar} />{/if}
<Grid
	label={definition.name}
	head="Line"
	{columns}
	{rows}
	{calendar}
	open={model.open}
	figures={data.figures}
	edits={model.editable ? edits : undefined}
	labelWidth={230}
	startsAtOpen={definition.dimensions.length > 0}
	onopen={openFigure}
	onaction={openFormula}
	ontoggle={toggle}
	onspread={spreadTotal}
	onsay={(m) => notices.say(m)}
/>
<p class="hint muted">
	White cells with a dotted line can be typed, totals with a dashed one too. <kbd>Enter</kbd> on a formula
	opens it{#if model.dimensions.length},
		<kbd>Alt</kbd> <kbd>→</kbd> unfolds a line{/if}.
	<kbd>Space</kbd> opens what a figure is made of.
	{#if preview.figures}<b class="slanted">Slanted figures</b> follow from what is not saved yet.{/if}
</p>
{#if spreading}
	<SpreadDialog
		title={spreading.title}
		typed={spreading.typed}
		rows={spreading.rows}
		format={spreading.line.format}
		decimals={entryDecimals(spreading.line.format, spreading.rows, company.data.company.decimals)}
		scenarios={data.scenarios.filter((s) => s.code !== selection.scenario && s.kind !== 'actuals')}
		{shapeOf}
		onapply={(list) => edits.apply(list)}
		onclose={() => (spreading = null)}
	/>
{/if}
{#if editing}
	<FormulaDialog
		scenario={selection.scenario}
		{scenarioName}
		model={definition.code}
		line={editing}
		names={model.names}
		also={model.alsoUsedBy}
		editable={model.editable}
		reason={model.reason}
		onclose={() => (editing = null)}
	/>
{/if}
<Conflicts
	bind:list={saving.conflicts}
	onkeep={() => saving.resolve(true)}
	ontake={() => saving.resolve(false)}
/>

<style>
	.top {
		display: flex;
		justify-content: space-between;
		align-items: end;
		gap: 16px;
		margin-bottom: 10px;
	}
	.filters {
		display: flex;
		gap: 16px;
		align-items: center;
		margin-bottom: 10px;
	}
	.filters label {
		display: flex;
		gap: 6px;
		align-items: center;
		color: var(--ink-2);
	}
	select {
		border: 1px solid var(--rule-strong);
		border-radius: 5px;
		background-color: var(--sheet);
		color: var(--ink);
		font: inherit;
		font-weight: 600;
		padding: 3px 26px 3px 8px;
	}
	.errors {
		color: var(--clay);
		font-weight: 600;
	}
	.slanted {
		color: var(--plum);
		font-style: italic;
	}
	.hint {
		padding-top: 6px;
		font-size: 12px;
	}
</style>
